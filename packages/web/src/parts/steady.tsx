import { memo, useLayoutEffect, useMemo, useRef, type ComponentType, type ReactElement } from 'react';

type Props = Record<string, unknown>;
const isHandler = (value: unknown): value is (...args: unknown[]) => unknown => typeof value === 'function';

/** What is shown is the same: handlers do not count, lists and records count by what they say. */
const sameToSee = (before: Props, after: Props): boolean => {
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
  return [...keys].every((key) => {
    const [a, b] = [before[key], after[key]];
    if (Object.is(a, b) || (isHandler(a) && isHandler(b))) return true;
    return isPlain(a) && isPlain(b) && JSON.stringify(a) === JSON.stringify(b);
  });
};
/** Not what React made: that can hold anything. */
const isPlain = (value: unknown): boolean => typeof value === 'object' && value !== null && !('$$typeof' in value);

/**
 * A field that is drawn anew only when what it shows changes: a panel has dozens of them, and a step changes what one of them says. Its
 * handlers are always the newest ones.
 */
export function steady<P extends object>(Field: ComponentType<P>): (props: P) => ReactElement {
  const Kept = memo(Field, (a, b) => sameToSee(a as Props, b as Props)) as unknown as ComponentType<P>;
  return function Steady(props: P) {
    const newest = useRef(props as Props);
    useLayoutEffect(() => {
      newest.current = props as Props;
    });
    const names = Object.keys(props).filter((key) => isHandler((props as Props)[key]));
    const handlers = useMemo(
      () =>
        Object.fromEntries(
          names.map((key) => [
            key,
            (...args: unknown[]) => {
              const now = newest.current[key];
              return isHandler(now) ? now(...args) : undefined;
            },
          ]),
        ),
      // eslint-disable-next-line react-hooks/exhaustive-deps -- the names say it all
      [names.join()],
    );
    return <Kept {...props} {...handlers} />;
  };
}
