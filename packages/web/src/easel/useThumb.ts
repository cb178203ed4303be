import { useEffect, useRef, type RefObject } from 'react';
import { context2d } from '../parts/context2d.ts';
import type { Asks, ThumbAnswer } from '../workers/messages.ts';
import { useEasel, useLivery } from './context.ts';

type Thumb = { [K in keyof Asks]: Asks[K]['answer'] extends ThumbAnswer | null ? K : never }[keyof Asks];

/** A canvas that shows a small picture of the livery, drawn again a moment after each change. */
export function useThumb<K extends Thumb>(
  name: K,
  ask: Asks[K]['ask'],
  afterMs: number,
): RefObject<HTMLCanvasElement | null> {
  const { model } = useEasel();
  const livery = useLivery();
  const canvas = useRef<HTMLCanvasElement>(null);
  const question = JSON.stringify(ask);
  useEffect(() => {
    let wanted = true;
    const timer = setTimeout(() => {
      model
        .ask(name, JSON.parse(question) as Asks[K]['ask'])
        .then((answer) => {
          const target = canvas.current;
          if (!wanted || !target) return;
          const thumb = answer as ThumbAnswer | null;
          if (thumb) Object.assign(target, { width: thumb.width, height: thumb.height });
          const ctx = context2d(target);
          ctx.clearRect(0, 0, target.width, target.height);
          if (thumb) ctx.putImageData(new ImageData(thumb.pixels, thumb.width, thumb.height), 0, 0);
        })
        // The flat view says what is wrong; a small picture just stays as it was.
        .catch(() => {});
    }, afterMs);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [livery, name, question, afterMs, model]);
  return canvas;
}
