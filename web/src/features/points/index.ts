export { figuresOf } from './figures';
export { PointCard } from './PointCard';
export { useLimitsChange } from './useLimitsChange';
