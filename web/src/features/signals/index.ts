export { draftOfAnswer, keepAnswer, loadAnswer } from './answerDraft';
export { EpisodeAsks } from './EpisodeAsks';
export { OpenEpisodes } from './OpenEpisodes';
