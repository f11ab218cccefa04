import { loadTemplate } from './nuvek';

/** Before all journeys, outside the time that each of them has. */
export default loadTemplate;
