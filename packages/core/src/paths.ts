/** Paths with slashes, as folders and archives have them. */

/** The last part of a path. */
export const baseOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** The last part without its ending. */
export const stemOf = (path: string): string => baseOf(path).replace(/\.[^.]*$/, '');
