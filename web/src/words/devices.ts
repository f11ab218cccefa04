import type { DeviceView, Reason } from '../api/client';
import { plural } from './numbers';
import { ago, when } from './time';
import { readableFrom } from './wall';

export const KINDS: Record<DeviceView['link']['kind'], string> = {
  ingest: 'Posts samples with a token',
  gauge: 'Bench gauge over the network',
  analyser: 'Laboratory analyser (ASTM)',
  sensor: 'Sensor by MQTT',
  folder: 'Tables in a watched folder',
  display: 'Display on the wall',
  program: 'Program that reads with a token',
};

/** Why something of a device was refused. */
const REASONS: Record<Reason, string> = {
  connection_lost: 'connection lost',
  address_not_allowed: 'address outside the networks that the server may connect to',
  sent_before: 'sent before, kept once',
  folder: 'folder that is not there, or cannot be read or written',
  table: 'table that its recipe is not for',
  cells: 'table with cells that cannot be read',
  rows: 'table with rows that cannot be kept',
  another_list: 'table that differs so much from what was stored that it may be another list',
  known_otherwise: 'table whose rows were known by other columns before',
  garbage: 'garbage on the line',
  line_too_long: 'line too long',
  unfinished_line: 'line begun and not ended',
  nothing_measured_here: 'nothing is measured at its station',
  not_a_number: 'not a number',
  other_unit: 'another unit',
  too_many_decimals: 'more decimals than the unit has',
  outside_hard_bounds: 'outside the hard bounds',
  wrong_count: 'too many or too few readings',
  blank: 'blank reading',
  checksum: 'frame with a wrong checksum',
  frame_number: 'frame out of order',
  frame_cut_off: 'frame cut off',
  frame_too_long: 'frame too long',
  frame_sent_again: 'frame sent again',
  stopped_in_the_middle: 'stopped in the middle of a message',
  message_without_end: 'message without an end',
  message_too_long: 'message too long',
  header: 'header that cannot be read',
  no_header: 'record without a header',
  unknown_record: 'unknown kind of record',
  result_without_order: 'result without its order',
  result_unreadable: 'result that cannot be read',
  not_final: 'result that is not final',
  unknown_test: 'specimen and test that no level is mapped to',
  other_station: 'not of its stations',
  no_json: 'not JSON',
  no_value: 'no value where it is looked for',
  no_unit: 'no unit where it is looked for',
  no_time: 'no time where it is looked for',
  no_id: 'no id where it is looked for',
  retained: 'kept message of the broker without an id, heard before',
  too_early: 'time before 1970',
  from_the_future: 'time in the future',
  late_for_its_bucket: 'late for its stretch of time',
  entry_reused: 'entry id used for another sample',
  unreadable: 'request that cannot be read',
  too_many: 'none, or more than 1000 samples in a request',
  defects: 'count that cannot be read',
  in_a_run: 'level of a control run',
  inspected: 'number inspected missing, or another than always',
  more_than_inspected: 'more found than inspected',
  nothing_recorded: 'nothing recorded',
  other_kind: 'readings where counts belong, or the other way round',
  between: 'units since the event before that are no whole number',
  event_there: 'event at a moment that has one',
  part: 'none of the parts of its short run',
  tag: 'tag that cannot be kept',
  refused: 'refused',
};

/** Why, in words; a reason that an older page does not know has none of its own. */
export function reasonInWords(reason: Reason): string {
  return (REASONS as Partial<typeof REASONS>)[reason] ?? REASONS.refused;
}

/** What a device that sends is, in its form and where it ends. */
const SENDS_SAMPLES = {
  named: 'It stands on the points that the device sends.',
  stations: 'Stations it sends for',
  shownOnce:
    'It is shown this once and not kept. Whoever has it can send samples for its stations; revoking the device ends that.',
  revoked: 'Nothing more is taken from it. What it sent stays.',
  counts: true,
};

const SHOWS_CHARTS = {
  named: 'It stands at the top of the screen.',
  stations: 'Stations it shows',
  shownOnce:
    'It is shown this once and not kept. Whoever has it sees the charts of its stations without signing in; revoking the display ends that.',
  revoked: 'It shows nothing any more.',
  counts: false,
};

const READS = {
  named: 'It tells this program from others, here alone.',
  stations: 'Stations it reads',
  shownOnce:
    'It is shown this once and not kept. Whoever has it reads samples, charts and signals of its stations, with the names of who entered and answered them; revoking the program ends that.',
  revoked: 'It reads nothing any more.',
  counts: false,
};

/** What differs between those that send, show and read. */
export function doesWhat(kind: DeviceView['link']['kind']): typeof SENDS_SAMPLES {
  if (kind === 'display') return SHOWS_CHARTS;
  return kind === 'program' ? READS : SENDS_SAMPLES;
}

const BRINGS = { never: 'no table yet', silent: 'last table', heard: 'last table' };
const SENDS = { never: 'never heard yet', silent: 'silent', heard: 'heard' };
const SHOWS = { never: 'never shown yet', silent: 'off', heard: 'looked' };

const ASKS = { never: 'never read yet', silent: 'read', heard: 'read' };

const HEARD: Partial<Record<DeviceView['link']['kind'], typeof SENDS>> = {
  display: SHOWS,
  folder: BRINGS,
  program: ASKS,
};

/** Whether a device is heard, with a shape beside the words. */
export function heardInWords(device: Pick<DeviceView, 'link' | 'revoked_at' | 'heard_at' | 'silent_since'>): string {
  const { never, silent, heard } = HEARD[device.link.kind] ?? SENDS;
  if (device.revoked_at) return `revoked ${when(device.revoked_at)}`;
  if (!device.heard_at) return `◇ ${never}`;
  if (device.silent_since) return `◆ ${silent} since ${when(device.silent_since)}`;
  const since = ago(device.heard_at);
  return since === '0 min' ? `✓ ${heard} just now` : `✓ ${heard} ${since} ago`;
}

/** How a device sends, in a line. */
export function linkInWords({ link }: Pick<DeviceView, 'link'>): string {
  switch (link.kind) {
    case 'ingest':
    case 'program':
      return KINDS[link.kind];
    case 'gauge':
    case 'analyser':
      return `${KINDS[link.kind]}, ${link.address.opens === 'server' ? 'connected at' : 'listened for at'} ${link.address.at}`;
    case 'folder':
      return `${KINDS.folder}, ${link.folder}`;
    case 'display':
      return `${KINDS.display}, ${plural(link.charts, { one: '1 chart', other: `${link.charts} charts` })} at a time, ${link.seconds} s each`;
    case 'sensor': {
      const make =
        'every' in link.make
          ? link.make.every === 1
            ? 'every value'
            : `every ${link.make.every} values one`
          : `the mean of ${link.make.bucket} s`;
      return `${KINDS.sensor}, ${link.topic} at ${link.broker}, ${make}`;
    }
  }
}

/** The list of devices. */
export const DEVICES = {
  title: 'Devices',
  devices: 'the devices',
  characteristics: 'Characteristics',
  setUp: 'Set up a device',
  nothing: 'No device is set up. Gauges, analysers and sensors can send what they measure.',
  refusedOf: (name: string) => `Refused of ${name}`,
  columns: ['Why', 'Times', 'Last', 'What came'],
  change: 'Change',
  changeOf: (name: string) => `Change ${name}`,
  revoke: (name: string) => `Revoke ${name}`,
  beginRevoke: 'Revoke …',
  beginRevokeOf: (name: string) => `Revoke ${name} …`,
  back: 'Back',
};

/** What became of what a device sent, in a line. */
export function countsInWords({
  accepted,
  untaken,
  refusals,
}: Pick<DeviceView, 'accepted' | 'untaken' | 'refusals'>): string {
  const refused = refusals.reduce((sum, r) => sum + r.count, 0);
  return [
    `${accepted} taken`,
    ...(untaken > 0 ? [`${untaken} offered that nobody took`] : []),
    refused === 0 ? 'nothing refused' : `${refused} refused`,
  ].join(' · ');
}

/** Setting up a device. */
export const DEVICE = {
  device: 'Device',
  theDevice: 'the device',
  gone: 'There is no such device any more.',
  title: 'Set up a device',
  name: 'Name',
  how: 'What it does',
  connection: 'Connection',
  whoOpens: 'Who opens the connection',
  opens: { server: 'Nuvek, to the device', device: 'The device, to Nuvek' },
  address: 'Address',
  addressHelp: { server: 'Of the device, as 192.0.2.7:4001', device: 'To listen at, as 0.0.0.0:4002' },
  broker: 'Broker',
  brokerHelp: 'Host and port, as 192.0.2.9:1883',
  topic: 'Topic',
  characteristic: 'Characteristic',
  stationsFirst: 'Choose its stations first.',
  payload: 'Where the JSON payload holds what, as JSON pointers; only the value is needed.',
  value: 'Value',
  unit: 'Unit',
  time: 'Time',
  id: 'Id of the message',
  whatBecomes: 'What becomes a reading',
  make: { every: 'One of so many values', bucket: 'The mean of so many seconds' },
  count: { every: 'Values', bucket: 'Seconds' },
  round: 'Round its values to the decimals of the unit; more decimals are refused otherwise',
  noLevels: 'Choose a station of the laboratory with analytes.',
  mapping: 'Which specimen and test of the analyser means which level; blanks are left out.',
  specimen: 'Specimen',
  test: 'Test',
  keep: 'Keep the change',
  setUp: 'Set it up',
  tokenOf: (name: string) => `Token of ${name}`,
  token: 'Token',
  wallOf: (name: string) => `Link of ${name}`,
  wallLink: 'Link',
  wallUse: 'Open it in the browser of the monitor. Space holds a page, arrow keys turn them.',
  tables: 'Tables',
  folder: 'Folder',
  folderHelp: 'Its name, below the folder that the installation sets apart for tables.',
  recipe: 'Recipe',
  noRecipes: 'A recipe is kept under Data, with a table like those that will come.',
  into: 'Samples go into',
  list: 'One list under this name',
  listHelp: 'Where each table is the one before, grown. Blank: each table is a list of its own.',
  withoutTags: 'Tags left out',
  withoutTagsHelp: 'Of the recipe, parted by commas.',
  onlyRight: 'Bring in what is right, whatever is refused; otherwise a table is taken whole or not at all',
  follows: 'Samples follow their rows: where a row says something else later, its sample is corrected',
  display: 'On the screen',
  atATime: 'Charts at a time',
  readable: (charts: number, share: number) =>
    `${plural(charts, { one: '1 chart', other: `${charts} charts` })}, legible from ${readableFrom(share).toFixed(1)} m on a 55-inch monitor`,
  seconds: 'Seconds each, 5 to 300',
  dark: 'Light writing on a dark ground',
  tokenUse: {
    ingest: ['It goes with each request to this address, in this header:', 'POST /api/ingest'],
    program: [
      'It goes with each request, in this header; what there is to read is described at this address:',
      'GET /api/openapi.json',
    ],
  },
  copied: 'It is copied',
};
