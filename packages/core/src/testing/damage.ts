/** Ways to damage a file, for tests of everything that reads files. */
import fc from './property.ts';

/** One way to damage a file. */
export type Damage =
  | { do: 'set'; at: number; value: number }
  | { do: 'word'; at: number; value: number }
  | { do: 'cut'; at: number }
  | { do: 'take'; at: number; n: number }
  | { do: 'grow'; n: number };
const HUGE = [
  0, 1, 2, 3, 4, 5, 15, 16, 17, 127, 128, 255, 256, 4095, 16384, 16385, 65535, 0x7fffffff, 0x80000000, 0xffffffff,
];
/** Byte and word changes, cuts, gaps and growth; words sit in the first 150 bytes, where headers are. */
export const damage: fc.Arbitrary<Damage> = fc.oneof(
  fc.record({ do: fc.constant('set' as const), at: fc.nat(), value: fc.nat(255) }),
  fc.record({ do: fc.constant('word' as const), at: fc.nat(37).map((n) => n * 4), value: fc.constantFrom(...HUGE) }),
  fc.record({ do: fc.constant('cut' as const), at: fc.nat() }),
  fc.record({ do: fc.constant('take' as const), at: fc.nat(), n: fc.nat(40) }),
  fc.record({ do: fc.constant('grow' as const), n: fc.nat(64) }),
);

/** The file with all of it done, one after the other. */
export function damaged(file: Uint8Array, all: readonly Damage[]): Uint8Array {
  let bytes = file.slice();
  for (const one of all) {
    if (bytes.length === 0) break;
    if (one.do === 'set') bytes[one.at % bytes.length] = one.value;
    else if (one.do === 'word') {
      if (one.at + 4 <= bytes.length) new DataView(bytes.buffer, bytes.byteOffset).setUint32(one.at, one.value, true);
    } else if (one.do === 'cut') bytes = bytes.slice(0, one.at % bytes.length);
    else if (one.do === 'take') {
      const at = one.at % bytes.length;
      bytes = Uint8Array.from([...bytes.subarray(0, at), ...bytes.subarray(at + one.n)]);
    } else bytes = Uint8Array.from([...bytes, ...new Uint8Array(one.n)]);
  }
  return bytes;
}
