/** What other features take of charts. */
export { worse } from './many';
