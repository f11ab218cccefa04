/** What is told of a station now and then: it comes when it is opened, or ahead of that. */
export const eventForm = () => import('./EventForm');
export const piecesForm = () => import('./PiecesForm');

export const roundForms = [eventForm, piecesForm];
