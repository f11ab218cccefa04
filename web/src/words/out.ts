/** What is taken out of a chart. */
export const OUT = {
  open: 'Take along …',
  link: 'Copy the link to exactly this',
  copied: 'The link is copied.',
  svg: 'Picture, as SVG',
  png: 'Picture, as PNG',
  csv: 'Points, as CSV',
  xlsx: 'Points, as a spreadsheet',
  shape: 'Samples, in another shape …',
  print: 'Print what is seen',
  paper: 'Paper chart, to fill by hand …',
};

/** A chart on paper, to be filled by hand at the machine. */
export const PAPER = {
  title: (name: string) => `Paper chart: ${name}`,
  what: 'the paper chart',
  print: 'Print',
  toChart: 'To the chart',
  noLimits: 'There are no limits yet: the scale is to be written by hand.',
  code: 'Scan to enter these samples',
  limitsOf: (phase: string, at: string) => `Limits of ${phase}, printed ${at}`,
  rows: { date: 'Date, time', initials: 'Initials', note: 'Note' },
  piece: (n: number) => `Piece ${n}`,
  count: 'Count',
  inspected: 'Inspected',
  between: 'Since the one before',
  label: 'Label for the station',
  toLabel: 'Label with the code alone',
  whole: 'The whole sheet',
};
