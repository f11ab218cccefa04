import type { DeviceView, Link } from '../../api/client';

/** What the form of a device holds, whatever its kind. */
export interface DeviceForm {
  name: string;
  stations: string[];
  kind: Link['kind'];
  opens: 'server' | 'device';
  at: string;
  /** Specimen and test by characteristic of the level. */
  results: Record<string, { specimen?: string; test?: string }>;
  broker: string;
  topic: string;
  characteristic: string;
  value: string;
  unit: string;
  time: string;
  id: string;
  make: 'every' | 'bucket';
  count: string;
  round: boolean;
  charts: string;
  seconds: string;
  dark: boolean;
  folder: string;
  recipe: string;
  list: string;
  withoutTags: string;
  onlyRight: boolean;
  follows: boolean;
}

export const BLANK: DeviceForm = {
  name: '',
  stations: [],
  kind: 'gauge',
  opens: 'server',
  at: '',
  results: {},
  broker: '',
  topic: '',
  characteristic: '',
  value: '/value',
  unit: '',
  time: '',
  id: '',
  make: 'every',
  count: '1',
  round: false,
  charts: '4',
  seconds: '15',
  dark: true,
  folder: '',
  recipe: '',
  list: '',
  withoutTags: '',
  onlyRight: false,
  follows: false,
};

/** A field that may be left blank. */
const blank = (text: string) => (text.trim() === '' ? null : text.trim());

/** The form of a device that is set up. */
export function formOf({ name, stations, link }: Pick<DeviceView, 'name' | 'stations' | 'link'>): DeviceForm {
  return { ...BLANK, name, stations: stations.map(({ id }) => id), ...formOfLink(link) };
}

function formOfLink(link: Link): Partial<DeviceForm> {
  switch (link.kind) {
    case 'ingest':
    case 'program':
      return { kind: link.kind };
    case 'display':
      return { ...link, charts: String(link.charts), seconds: String(link.seconds) };
    case 'folder': {
      const { folder, recipe, characteristic, list, without_tags = [], only_right = false, follows = false } = link;
      return {
        kind: 'folder',
        folder,
        recipe,
        characteristic,
        list: list ?? '',
        withoutTags: without_tags.join(', '),
        onlyRight: only_right,
        follows,
      };
    }
    case 'gauge':
      return { kind: 'gauge', ...link.address };
    case 'analyser': {
      const results = Object.fromEntries(
        link.results.map(({ characteristic, specimen, test }) => [characteristic, { specimen, test }]),
      );
      return { kind: 'analyser', ...link.address, results };
    }
    case 'sensor': {
      const { broker, topic, characteristic, payload, make, round } = link;
      const [how, count] = 'every' in make ? (['every', make.every] as const) : (['bucket', make.bucket] as const);
      return {
        kind: 'sensor',
        broker,
        topic,
        characteristic,
        round,
        value: payload.value,
        unit: payload.unit ?? '',
        time: payload.at ?? '',
        id: payload.id ?? '',
        make: how,
        count: String(count),
      };
    }
  }
}

/** The form as the server reads it. */
export function linkOf(form: DeviceForm): Link {
  const address = { opens: form.opens, at: form.at.trim() };
  switch (form.kind) {
    case 'ingest':
    case 'program':
      return { kind: form.kind };
    case 'display':
      return { kind: 'display', charts: Number(form.charts), seconds: Number(form.seconds), dark: form.dark };
    case 'folder':
      return {
        kind: 'folder',
        folder: form.folder.trim(),
        recipe: form.recipe,
        characteristic: form.characteristic,
        list: blank(form.list),
        without_tags: form.withoutTags
          .split(',')
          .map((tag) => tag.trim())
          .filter((tag) => tag !== ''),
        only_right: form.onlyRight,
        follows: form.follows,
      };
    case 'gauge':
      return { kind: 'gauge', address };
    case 'analyser': {
      return { kind: 'analyser', address, results: mapped(form) };
    }
    case 'sensor': {
      const count = Number(form.count);
      return {
        kind: 'sensor',
        broker: form.broker.trim(),
        topic: form.topic.trim(),
        characteristic: form.characteristic,
        payload: { value: form.value.trim(), unit: blank(form.unit), at: blank(form.time), id: blank(form.id) },
        make: form.make === 'every' ? { every: count } : { bucket: count },
        round: form.round,
      };
    }
  }
}

/** The levels that are mapped to a specimen and a test. */
function mapped({ results }: DeviceForm): { characteristic: string; specimen: string; test: string }[] {
  return Object.entries(results)
    .map(([characteristic, { specimen = '', test = '' }]) => ({
      characteristic,
      specimen: specimen.trim(),
      test: test.trim(),
    }))
    .filter(({ specimen, test }) => specimen !== '' && test !== '');
}

/** Whether enough is filled in to be sent. */
export function isComplete(form: DeviceForm): boolean {
  if (form.name.trim() === '' || form.stations.length === 0) return false;
  switch (form.kind) {
    case 'ingest':
    case 'program':
      return true;
    case 'display':
      return Number.isInteger(Number(form.seconds)) && form.seconds.trim() !== '';
    case 'folder':
      return [form.folder, form.recipe, form.characteristic].every((text) => text.trim() !== '');
    case 'gauge':
      return form.at.trim() !== '';
    case 'analyser':
      return form.at.trim() !== '' && mapped(form).length > 0;
    case 'sensor':
      return (
        [form.broker, form.topic, form.characteristic].every((text) => text.trim() !== '') &&
        Number.isInteger(Number(form.count)) &&
        Number(form.count) > 0
      );
  }
}
