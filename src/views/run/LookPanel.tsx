import { later } from '../../ui/later';

/** What the readings of a set look like; its script comes after the page. */
export const LookPanel = later<{ set: string }>(async () => (await import('./LookFigure')).LookFigure);
