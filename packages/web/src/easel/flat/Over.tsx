import type { SVGAttributes } from 'react';
import type { Look } from './view.ts';

/** A drawing over the whole paper, for the eye alone: presses go through it but where a shape takes them. */
export function Over({ view, ...more }: { view: Look } & SVGAttributes<SVGSVGElement>) {
  return (
    <svg
      aria-hidden
      width={view.width}
      height={view.height}
      style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}
      {...more}
    />
  );
}
