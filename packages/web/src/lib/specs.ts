import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';

/** A template whose own spec is the one that the livery is pinned to: a painter may have made it. */
export const withSpec = (template: Template, spec: DeliverySpec | null): Template =>
  spec ? { ...template, ownSpec: spec } : template;
