export { draftOf, isBegun, keepDraft, loadDraft } from './draft';
