/** The games that come with the product, in the order in which they are listed. */
import type { BayGame } from '../bay/report.ts';
import type { DeliverySpec } from '../livery/spec.ts';
import type { Game } from './game.ts';
import { brackwaterRun } from './brackwaterRun/index.ts';
import { ferrywardensOath } from './ferrywardensOath/index.ts';
import { harbourWatch } from './harbourWatch/index.ts';
import { longhaul } from './longhaul/index.ts';
import { marshkin } from './marshkin/index.ts';
import { ninthMeridian } from './ninthMeridian/index.ts';
import { pebblewick } from './pebblewick/index.ts';
import { tollbarge } from './tollbarge/index.ts';

const GAMES = [brackwaterRun, ninthMeridian, ferrywardensOath, pebblewick, marshkin, tollbarge, harbourWatch, longhaul];

/** The stand-in games of the test bay. */
export const BAY_GAMES: readonly BayGame[] = GAMES.map(({ loader }) => loader);

export const bayGame = (key: string): BayGame | undefined => BAY_GAMES.find((game) => game.key === key);

/** Their delivery specs, by key; without the names that every object has, for keys come from outside. */
export const SHIPPED_SPECS: Readonly<Record<string, DeliverySpec>> = Object.assign(
  Object.create(null) as Record<string, DeliverySpec>,
  Object.fromEntries(GAMES.map(({ spec }) => [spec.key, spec])),
);

/** Every version of them that ever shipped. */
export const EVERY_SHIPPED_SPEC: readonly DeliverySpec[] = GAMES.flatMap(({ spec, earlier = [] }: Game) => [
  spec,
  ...earlier,
]);
