/** Figures by level and reagent lot, and giving a level another mean. */
export const FIGURES = {
  figures: 'the figures',
  title: 'Figures by level and reagent lot',
  table: 'Figures',
  bench: 'The bench',
  about:
    'The current period begins where mean and sd were last assigned; rejected results are left out of the figures of all time.',
  nothing: 'No run has been measured here yet.',
  level: 'Level',
  reagentLot: 'Reagent lot',
  current: 'Current period',
  cumulative: 'Of all time',
  columns: ['n', 'Mean', 'sd', 'CV', 'n', 'Mean', 'sd', 'CV', 'Left out'],
  meanAndSd: 'Mean and sd',
  assign: 'Assign …',
  assignOf: (what: string) => `Assign mean and sd of ${what}`,
  assignTitle: (what: string) => `Mean and sd of ${what}`,
  holdFromNow: (lot: string) =>
    `They hold from now on; results before stay judged as they were. What stands here is of its own accepted results with reagent lot ${lot}.`,
  name: 'Name, such as the control lot',
  mean: 'Mean',
  sd: 'sd',
  assignThem: 'Assign them',
};

/** A new control lot beside the old one. */
export const LOT = {
  begin: 'New lot beside …',
  beginOf: (what: string) => `Run a new control lot beside ${what}`,
  about:
    'Its results are entered in the same runs, and no run is judged by them. From 20 accepted results on it has a mean and sd of its own, and can take over.',
  name: 'Name of the new lot',
  sayName: 'Give the lot a name of 1 to 80 characters.',
  doBegin: 'Run it beside',
  takeOver: 'Let it take over',
  takeOverOf: (what: string) => `Let ${what} take over`,
  beside: 'runs beside, not judged',
};

/** Setting up an analyte. */
export const ANALYTE = {
  title: 'Set up an analyte',
  analyte: 'Analyte',
  bench: 'Bench',
  determined: 'What is determined',
  unit: 'Unit',
  decimals: 'Decimals',
  levels: 'Levels',
  inOrder: 'Levels, in the order in which neighbours are compared',
  levelNo: (n: number) => `Level ${n}`,
  level: 'Level',
  material: 'Control material',
  mean: 'Mean',
  sd: 'sd',
  takeAway: 'Take away',
  takeLevelAway: (n: number) => `Take level ${n} away`,
  addLevel: 'Add a level',
  materialIs: 'A control material is a product of the site; mean and sd are those assigned to its lot.',
  rules: 'Rules that judge a run',
  setUp: 'Set it up',
};
