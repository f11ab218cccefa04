/** What part of a recipe a path names, in words. */
function partOf(path: string): string {
  if (path.startsWith('read.sheet')) return 'The sheet';
  if (path.startsWith('read.format')) return 'The file';
  if (path.startsWith('read')) return 'The table';
  if (path.startsWith('time.format')) return 'How times are written';
  if (path.startsWith('time')) return 'The column of times';
  if (path.startsWith('tags')) return 'A tag';
  if (path.startsWith('where')) return 'Which rows count';
  if (path.startsWith('key')) return 'What rows are known again by';
  return 'The shape';
}

/** Why a recipe does not fit its file, and what would be right. */
export function recipeRefused({ path, given, allowed }: { path: string; given: string; allowed: string }): string {
  return `${partOf(path)}: ${given === 'nothing' ? 'nothing is given' : `it is “${given}”`}. Right would be ${allowed}.`;
}

/** By what the rows of a list are known again. */
export const rowsKnownBy = (key: readonly string[]): string =>
  key.length === 0 ? 'their numbers' : key.map((name) => `“${name}”`).join(', ');
