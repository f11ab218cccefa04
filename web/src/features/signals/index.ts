export { EpisodeAsks } from './EpisodeAsks';
export { OpenEpisodes } from './OpenEpisodes';
