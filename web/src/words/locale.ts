/** The language of these words, for numbers, dates and the page. */
export const LOCALE = 'en-GB';
