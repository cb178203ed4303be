import { CONTROL } from '../theme.ts';

/** How much room what stands around the sheet takes, pixels: it is kept free until that is there. */
export const STRIP_WIDTH = 84;
export const COLUMN_WIDTH = 264;
/** The shelf's; its head is as high as what is pressed there. @param listed it is pulled up to a list */
export const shelfHeight = (listed: boolean): string => `calc(${listed ? 332 : 130}px + ${CONTROL})`;
