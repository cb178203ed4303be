import type { DeliveryPlan } from './plan.ts';
import type { DeliverySpec } from '../livery/spec.ts';
import type { Edit } from '../livery/edit.ts';
import type { LayerId } from '../livery/ids.ts';
import type { Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import type { Target } from './target.ts';
import type { Sources } from '../compose/renderTile.ts';

/** One thing that preflight found. */
export interface Finding {
  check: string;
  /** "stop" keeps the delivery from being made. */
  level: 'stop' | 'advice';
  title: string;
  detail: string;
  /** Where to look at it. */
  show?: { sheet: string; layer?: LayerId } | { particular: string };
  fix?: { label: string; edit: Edit };
}

export interface CheckInput {
  livery: Livery;
  template: Template;
  spec: DeliverySpec;
  plan: DeliveryPlan;
  /** What lies in the game's folder. */
  target: Target;
  sources: Sources;
}

/** One check of preflight. */
export interface Check {
  key: string;
  /** What it looks at, for the line that says that all is well. */
  subject: string;
  /** A sentence for beginners. */
  why: string;
  run(input: CheckInput): Finding[];
}
