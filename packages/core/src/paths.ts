/** Paths with slashes, as folders and archives have them. */

/** The last part of a path. */
export const baseOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** All before the last part, with its slash; empty when there is nothing. */
export const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);

/** What stands behind the last dot, in lower case; the whole of it where there is none. */
export const endingOf = (path: string): string => path.slice(path.lastIndexOf('.') + 1).toLowerCase();

/** The last part without its ending. */
export const stemOf = (path: string): string => baseOf(path).replace(/\.[^.]*$/, '');
