export { OpenSignals } from './OpenSignals';
export { SignalAsks } from './SignalAsks';
