/** What other features take of the wall view. */
export { AT_A_TIME, writingOf } from './layout';
