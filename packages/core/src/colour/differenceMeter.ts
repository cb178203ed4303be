import { ciede2000, labOfSrgb8, type Lab } from './ciede2000.ts';

const SLOTS = 1 << 16;

/** CIEDE2000 of many pairs of texels: pictures hold the same colours, and the same pairs, again and again. */
export class DifferenceMeter {
  private readonly first = new Uint32Array(SLOTS);
  private readonly second = new Uint32Array(SLOTS);
  private readonly difference = new Float32Array(SLOTS);
  private readonly labs = new Map<number, Lab>();

  /** @param a,b texels as RGBA8 words, red in the lowest byte; alpha aside */
  of(a: number, b: number): number {
    const [p, q] = [a & 0xffffff, b & 0xffffff];
    if (p === q) return 0;
    const slot = (Math.imul(p, 0x9e3779b1) ^ Math.imul(q, 0x85ebca6b)) >>> 16;
    // Slots begin as the pair of black and black, which never gets here.
    if (this.first[slot] === p && this.second[slot] === q) return this.difference[slot];
    const found = ciede2000(this.lab(p), this.lab(q));
    this.first[slot] = p;
    this.second[slot] = q;
    this.difference[slot] = found;
    return found;
  }

  private lab(rgb: number): Lab {
    let lab = this.labs.get(rgb);
    if (!lab) {
      if (this.labs.size > 100_000) this.labs.clear();
      lab = labOfSrgb8(rgb & 255, (rgb >> 8) & 255, rgb >> 16);
      this.labs.set(rgb, lab);
    }
    return lab;
  }
}
