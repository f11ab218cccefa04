export { freshRun, isRunBegun, keepRun, loadRun, runDraftOf } from './runDraft';
