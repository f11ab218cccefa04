export { roundOf, waitsOf } from './round';
