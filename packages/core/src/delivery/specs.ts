import { InputError } from '../errors.ts';
import { EVERY_SHIPPED_SPEC } from '../games/index.ts';
import type { Livery, SpecPin } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import type { DeliverySpec } from '../livery/spec.ts';

/**
 * The delivery spec that a livery is pinned to: one that a painter made, the one that its template brings, or a shipped one.
 * @throws InputError when it is not here
 */
export const specFor = (
  livery: Pick<Livery, 'pins'>,
  template: Pick<Template, 'ownSpec'>,
  made: readonly DeliverySpec[] = [],
): DeliverySpec => specBy(livery.pins.spec, template, made);

const found = (
  { key, version }: SpecPin,
  template: Pick<Template, 'ownSpec'>,
  made: readonly DeliverySpec[],
): DeliverySpec | undefined =>
  [...made, template.ownSpec, ...EVERY_SHIPPED_SPEC].find((s) => s?.key === key && s.version === version);

/** The delivery spec of a key and version. @throws InputError when it is not here */
export function specBy(
  pin: SpecPin,
  template: Pick<Template, 'ownSpec'>,
  made: readonly DeliverySpec[] = [],
): DeliverySpec {
  const spec = found(pin, template, made);
  if (!spec) throw new InputError(`The delivery spec "${pin.key}", version ${pin.version}, is not here.`);
  return spec;
}

/** Whether a delivery spec of that key and version is here. */
export const isSpec = (
  pin: SpecPin,
  template: Pick<Template, 'ownSpec'>,
  made: readonly DeliverySpec[] = [],
): boolean => found(pin, template, made) !== undefined;
