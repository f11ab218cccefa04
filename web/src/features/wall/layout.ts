/** How a display's screen is divided, and how large its writing is. */

interface Screen {
  width: number;
  height: number;
}

/** Charts at a time that can be chosen when a display is set up. */
export const AT_A_TIME = [1, 2, 4, 6, 9] as const;

/** Size of the writing as a share of the longer side of a screen of 16 to 9. */
export function writingOf(charts: number): number {
  return charts <= 4 ? 0.0295 : 0.02;
}

/** Columns of charts beside each other; a screen that stands upright has fewer. */
export function columnsOf(charts: number, { width, height }: Screen): number {
  const upright = height > width;
  if (charts <= 2) return 1;
  if (charts <= 4) return upright ? 1 : 2;
  return upright ? 2 : 3;
}

/** The size of the writing on a screen, in pixels; never too small for one who stands before it. */
export function sizeOf(charts: number, { width, height }: Screen): number {
  const long = Math.max(width, height);
  const short = Math.min(width, height);
  return Math.max(16, writingOf(charts) * Math.min(long, short * (16 / 9)));
}

/** Things in pages of so many. */
export function paged<T>(all: readonly T[], most: number): T[][] {
  const pages: T[][] = [];
  for (let from = 0; from < all.length; from += most) pages.push(all.slice(from, from + most));
  return pages;
}
