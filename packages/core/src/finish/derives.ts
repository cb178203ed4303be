import type { Channel } from '../livery/spec.ts';
import type { Meaning } from './meanings.ts';

/** What is derived on a map of a sheet. */
export interface Derives {
  /** What its channels mean that a finish says. */
  channels: Partial<Record<Channel, Meaning>>;
  /** What the others hold where the map begins with nothing: light everywhere, else none. 0 to 255. */
  neutral: Partial<Record<Channel, number>>;
  /** Pictures that the map begins with: what is derived lies above them, and only where somebody set a finish. */
  over: ReadonlySet<string>;
  /** It is there whether somebody set a finish or not: it is asked for by name. */
  always: boolean;
  /** It holds light: it follows the day as the livery's night says; see night.ts. */
  night: boolean;
  /** Pictures that the sheet's colours begin with. */
  day: ReadonlySet<string>;
}
