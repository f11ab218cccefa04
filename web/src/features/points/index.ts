export { PointCard } from './PointCard';
export { useLimitsChange } from './useLimitsChange';
