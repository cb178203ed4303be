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
  /** Another way to mend it. */
  otherFix?: { label: string; edit: Edit };
  /** A name by which somebody who knows better lets a delivery go on in spite of it. */
  overrule?: string;
  /** It was let go on by that name. */
  overruled?: true;
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
  /** It speaks of islands: of sheets that came without a model it says nothing. */
  needsModel?: true;
  run(input: CheckInput): Finding[];
}
