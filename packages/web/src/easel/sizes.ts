/** How much room what stands around the sheet takes, pixels: it is kept free until that is there. */
export const STRIP_WIDTH = 84;
export const COLUMN_WIDTH = 264;
/** @param listed the shelf is pulled up to a list */
export const shelfHeight = (listed: boolean): number => (listed ? 360 : 158);
