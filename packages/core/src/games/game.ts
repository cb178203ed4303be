import type { BayGame } from '../bay/report.ts';
import type { DeliverySpec } from '../livery/spec.ts';

/** A game that comes with the product: what it wants of a delivery, and what it makes of one. Neither knows of the other. */
export interface Game {
  spec: DeliverySpec;
  loader: BayGame;
}
