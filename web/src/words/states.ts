/** The states that any page can be in. */
export const STATE = {
  loading: (what: string) => `Loading ${what} …`,
  asLastSeen: 'What is shown is as it was last seen.',
  loadAgain: 'Load again',
};
