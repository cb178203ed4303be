import type { BayGame } from '../bay/report.ts';
import type { DeliverySpec } from '../livery/spec.ts';

/** A game that comes with the product: what it wants of a delivery, and what it makes of one. Neither knows of the other. */
export interface Game {
  spec: DeliverySpec;
  /** Versions before it, for liveries that are pinned to one. */
  earlier?: readonly DeliverySpec[];
  loader: BayGame;
}
