/** Versions of what makes pixels and bytes: golden hashes hold them, see versions.test.ts. */

/** Of compositing: it moves when the same livery gives other texels. */
export const RENDERER = 2;

/** Of preparing, filtering and encoding: it moves when the same texels give another file. */
export const ENCODERS = 4;
