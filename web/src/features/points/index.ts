export { figuresOf } from './figures';
export { PointCard } from './PointCard';
export { StretchCard } from './StretchCard';
export { useLimitsChange } from './useLimitsChange';
