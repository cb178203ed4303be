import { useEffect, useRef } from 'react';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { INK } from '../theme.ts';
import { changeOf } from '../workers/sharing.ts';
import { useEasel } from './context.ts';

const SIZE = { width: 56, height: 36 };

/**
 * What a step changed, as it was after it; drawn when it comes into view.
 * @param back how many steps ago
 */
export function StepPicture({ stateAt, back }: { stateAt(back: number): Livery | null; back: number }) {
  const { model } = useEasel();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let wanted = true;
    const draw = async () => {
      const [after, before] = [stateAt(back), stateAt(back + 1)];
      if (!after || !before) return;
      const thumb = await model.ask('stepThumb', { after, before: changeOf(after, before), ...SIZE });
      if (!wanted || !thumb) return;
      canvas.current?.getContext('2d')!.putImageData(new ImageData(thumb.pixels, thumb.width, thumb.height), 0, 0);
    };
    const watch = new IntersectionObserver(([entry]) => {
      if (!entry.isIntersecting) return;
      watch.disconnect();
      // A small picture that cannot be drawn stays empty; the step says what it was.
      draw().catch(() => {});
    });
    watch.observe(canvas.current!);
    return () => {
      wanted = false;
      watch.disconnect();
    };
  }, [stateAt, back, model]);
  return (
    <canvas
      ref={canvas}
      {...SIZE}
      aria-hidden
      data-testid="step-picture"
      style={{ flex: 'none', marginRight: 10, background: INK.deep, border: `1px solid ${INK.line}` }}
    />
  );
}
