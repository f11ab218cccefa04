import type { Link } from '../../api/client';

/** What the form of a device holds, whatever its kind. */
export interface LinkForm {
  kind: Link['kind'];
  opens: 'server' | 'device';
  at: string;
  /** Specimen and test by characteristic of the level. */
  results: Record<string, { specimen: string; test: string }>;
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
}

export const BLANK: LinkForm = {
  kind: 'gauge', opens: 'server', at: '', results: {}, broker: '', topic: '', characteristic: '',
  value: '/value', unit: '', time: '', id: '', make: 'every', count: '1', round: false,
};

const pointer = (text: string) => (text.trim() === '' ? null : text.trim());

/** The form of a device that is set up. */
export function formOfLink(link: Link): LinkForm {
  switch (link.kind) {
    case 'ingest':
      return { ...BLANK, kind: 'ingest' };
    case 'gauge':
      return { ...BLANK, kind: 'gauge', ...link.address };
    case 'analyser': {
      const results = Object.fromEntries(link.results.map(({ characteristic, specimen, test }) => [characteristic, { specimen, test }]));
      return { ...BLANK, kind: 'analyser', ...link.address, results };
    }
    case 'sensor': {
      const { broker, topic, characteristic, payload, make, round } = link;
      const [how, count] = 'every' in make ? (['every', make.every] as const) : (['bucket', make.bucket] as const);
      return {
        ...BLANK, kind: 'sensor', broker, topic, characteristic, round,
        value: payload.value, unit: payload.unit ?? '', time: payload.at ?? '', id: payload.id ?? '',
        make: how, count: String(count),
      };
    }
  }
}

/** The form as the server reads it. */
export function linkOf(form: LinkForm): Link {
  const address = { opens: form.opens, at: form.at.trim() };
  switch (form.kind) {
    case 'ingest':
      return { kind: 'ingest' };
    case 'gauge':
      return { kind: 'gauge', address };
    case 'analyser': {
      const mapped = Object.entries(form.results).filter(([, { specimen, test }]) => specimen.trim() !== '' && test.trim() !== '');
      return { kind: 'analyser', address, results: mapped.map(([characteristic, { specimen, test }]) => ({ characteristic, specimen: specimen.trim(), test: test.trim() })) };
    }
    case 'sensor': {
      const count = Number(form.count);
      return {
        kind: 'sensor', broker: form.broker.trim(), topic: form.topic.trim(), characteristic: form.characteristic,
        payload: { value: form.value.trim(), unit: pointer(form.unit), at: pointer(form.time), id: pointer(form.id) },
        make: form.make === 'every' ? { every: count } : { bucket: count },
        round: form.round,
      };
    }
  }
}

/** Whether enough is filled in to be sent. */
export function isComplete(form: LinkForm): boolean {
  switch (form.kind) {
    case 'ingest':
      return true;
    case 'gauge':
      return form.at.trim() !== '';
    case 'analyser':
      return form.at.trim() !== '' && Object.values(form.results).some(({ specimen, test }) => specimen.trim() !== '' && test.trim() !== '');
    case 'sensor':
      return [form.broker, form.topic, form.characteristic].every((text) => text.trim() !== '') && Number.isInteger(Number(form.count)) && Number(form.count) > 0;
  }
}
