/** The stand-in games of the test bay. */
import { brackwaterRun } from './brackwaterRun.ts';
import { ferrywardensOath } from './ferrywardensOath.ts';
import { harbourWatch } from './harbourWatch.ts';
import { longhaul } from './longhaul.ts';
import { marshkin } from './marshkin.ts';
import { ninthMeridian } from './ninthMeridian.ts';
import { pebblewick } from './pebblewick.ts';
import type { BayGame } from './report.ts';
import { tollbarge } from './tollbarge.ts';

export const BAY_GAMES: readonly BayGame[] = [
  brackwaterRun,
  ninthMeridian,
  ferrywardensOath,
  pebblewick,
  marshkin,
  tollbarge,
  harbourWatch,
  longhaul,
];

export const bayGame = (key: string): BayGame | undefined => BAY_GAMES.find((game) => game.key === key);
