/**
 * Working memory for compositing: tiles in the memory of kernels of this thread's own, apart from the encoders', so that vector
 * instructions reach them. What lies elsewhere is composited by the TypeScript twins, to the same bit.
 */
import { KERNEL_BYTES, newKernel, ROOM, type Kernel } from '../kernels/kernel.ts';
import { TILE } from './image.ts';

/** Tiles that can be in work at once: groups within groups, and what they are made from. */
const SLOTS = 40;
const SLOT_BYTES = TILE * TILE * 8;
const FIRST = KERNEL_BYTES;
const PAGE = 65536;

/** Where one colour lies for the kernel, and where the thresholds of a row: eight vectors. */
const COLOUR = ROOM;
export const THRESHOLDS = ROOM + 64;
/** Where the entries of fades lie, one texel each: so many fades, in so many bytes each. */
export const RAMP = FIRST + SLOTS * SLOT_BYTES;
export const RAMPS = 24;
export const RAMP_BYTES = 0x20100;
/** Where a row of bytes is made. */
export const STRAIGHT = ROOM + 1024;

let made: Kernel | null = null;
let colour: Uint16Array | null = null;
let used = 0;

export function kernelOf(): Kernel {
  if (made) return made;
  made = newKernel();
  made.memory.grow(Math.ceil((SLOTS * SLOT_BYTES + RAMPS * RAMP_BYTES) / PAGE));
  return made;
}

/** Lays one texel where the kernels find it. @returns its address */
export function colourFor(r: number, g: number, b: number, a: number): number {
  colour ??= new Uint16Array(kernelOf().memory.buffer, COLOUR, 4);
  colour[0] = r;
  colour[1] = g;
  colour[2] = b;
  colour[3] = a;
  return COLOUR;
}

export const inArena = (buffer: Uint16Array | Uint8Array): boolean => buffer.buffer === made?.memory.buffer;

/**
 * Runs something with room of its own; all that it took is free again afterwards, so it must not keep any of it.
 */
export function scoped<T>(run: () => T): T {
  const mark = used;
  try {
    return run();
  } finally {
    used = mark;
  }
}

/** The same values in the kernels' memory, if there is room: a copy, unless they lie there already. Not to be written to. */
export const taken = (values: Uint16Array): Uint16Array => (inArena(values) ? values : copied(values));

/** A copy in the kernels' memory, if there is room. */
export function copied(values: Uint16Array): Uint16Array {
  const copy = newTile(values.length);
  copy.set(values);
  return copy;
}

/** Zeroed 16-bit values: in the kernels' memory while a slot is free and they fit, else wherever. Free at the end of the scope. */
export const zeroedTile = (length: number): Uint16Array => newTile(length).fill(0);

/** The same with whatever lay there: for what is written over as a whole. */
export function newTile(length: number): Uint16Array {
  const kernel = kernelOf();
  if (length * 2 > SLOT_BYTES || used >= SLOTS) return new Uint16Array(length);
  return new Uint16Array(kernel.memory.buffer, FIRST + used++ * SLOT_BYTES, length);
}
