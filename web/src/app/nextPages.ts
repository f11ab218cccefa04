import { useEffect } from 'react';

/** Where a round leads: a sample is entered, a chart is looked at. */
export const entryPage = () => import('../features/entry/EntryPage');
export const chartPage = () => import('../features/charts/ChartPage');

/** Who comes, or comes again: not needed by whom the server knows, until their session ends. */
export const signIn = () => import('./SignIn');
export const firstPassword = () => import('../features/me/ChoosePassword');

/** How long the first page is given to be drawn, in ms. */
const AFTER_MS = 1500;

/** Fetches the pages that are opened next, once the first one stands: a press must not wait for them. */
export function useNextPages(present: boolean): void {
  useEffect(() => {
    if (!present) return;
    const timer = window.setTimeout(() => {
      // Where it fails the press that needs them says so.
      void Promise.allSettled([entryPage(), chartPage(), signIn()]);
    }, AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [present]);
}
