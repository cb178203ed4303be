/** What the demo world has for each game: the subject that is painted, and what the game brings itself. Brackwater Run's subject is the Turnstone. */
import * as ferrywardensOath from './ferrywardensOath.ts';
import * as harbourWatch from './harbourWatch.ts';
import * as longhaul from './longhaul.ts';
import * as marshkin from './marshkin.ts';
import * as ninthMeridian from './ninthMeridian.ts';
import * as pebblewick from './pebblewick.ts';
import * as tollbarge from './tollbarge.ts';
import type { Subject } from './subject.ts';

interface DemoGame {
  /** With the quirks that the game has. */
  subject(): Subject;
  /** Files of the game's own that deliveries continue, share or meet, by their paths in its folder. */
  brings?(): Record<string, Uint8Array>;
}

const GAMES: readonly DemoGame[] = [
  ninthMeridian,
  ferrywardensOath,
  pebblewick,
  marshkin,
  tollbarge,
  harbourWatch,
  longhaul,
];

export const SUBJECTS = GAMES.map(({ subject }) => subject);

/** By game: path in its folder to bytes. The SVG rasteriser must have been started. */
export const gameFiles = (): Record<string, Record<string, Uint8Array>> =>
  Object.fromEntries(GAMES.flatMap(({ subject, brings }) => (brings ? [[subject().template.game, brings()]] : [])));
