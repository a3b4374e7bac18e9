/** What the board is given when it is checked: a plain object for each time that it is rendered. */
import { HIVES } from './data';

export const allHives = { hives: HIVES };
export const noHives = { hives: [] };
