/** The canvases of the flat view: the art by its painter, and what is drawn over it. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import useSWR from 'swr';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { useEachShown, useEasel, useLivery, useTemplate } from '../context.ts';
import { isPainting, useHand } from '../hand.ts';
import { setTrouble, useSessionOf } from '../session.ts';
import { shownOn } from '../shows.ts';
import { onlyLayer } from '../solo.ts';
import { useGuidePictures } from './guidePictures.ts';
import { drawGuides, GUIDE_FONT } from './guides.ts';
import { around, piecesOf } from './pieces.ts';
import { shownPainter, TilePainter } from './tilePainter.ts';
import { fitView, takeWanted, onPaper, setSeen, toPaper, useView, zoomAt } from './view.ts';

/** The sheets that are in view together, and what is drawn of them on two canvases that lie over one another. */
export function useSheetCanvas() {
  const { flat } = useEasel();
  const template = useTemplate();
  const livery = useLivery();
  const { sheet, map, run, chosen, guides, surround, channel, shows, under, ghost, maskAlone, solo } = useSessionOf(
    ...([
      'sheet',
      'map',
      'run',
      'chosen',
      'guides',
      'surround',
      'channel',
      'shows',
      'under',
      'ghost',
      'maskAlone',
      'solo',
    ] as const),
  );
  const pieces = useMemo(() => piecesOf(template, sheet, run), [template, sheet, run]);
  const view = useView();
  const hand = useHand((h) => h.hand);
  const art = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const painter = useRef<TilePainter | null>(null);
  const [lettersReady, setLettersReady] = useState(false);
  const hash = livery.pins.template;
  const pictures = useGuidePictures(template, hash, sheet, guides);
  const { data: layout } = useSWR<TemplateLayout>(guides.has('locator') ? `/templates/${hash}/layout` : null, {
    revalidateOnFocus: false,
  });

  useEffect(() => void document.fonts.load(GUIDE_FONT).then(() => setLettersReady(true)), []);
  useEffect(() => {
    const made = new TilePainter(art.current!, flat, setTrouble, () => isPainting(useHand.getState().hand));
    painter.current = made;
    shownPainter.current = made;
    return () => {
      made.close();
      shownPainter.current = null;
    };
  }, [flat]);
  useEffect(() => painter.current?.ready(), [hand]);
  useEachShown(
    useCallback(
      (shown: Livery) => painter.current?.show(solo && chosen ? onlyLayer(shown, chosen) : shown, chosen),
      [chosen, solo],
    ),
  );
  useEffect(() => {
    const seen = shownOn(template, sheet, shows, map);
    painter.current?.look(view, pieces, {
      map: seen.map,
      channel: seen.channel ?? channel,
      under,
      surround,
      maskOf: maskAlone && chosen ? chosen : null,
      ghosts: guides.has('ghost') && ghost.below ? { of: pictures.ghosts, strength: ghost.strength } : null,
    });
    const canvas = over.current!;
    const [w, h] = [Math.round(view.width * devicePixelRatio), Math.round(view.height * devicePixelRatio)];
    if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
    const ctx = canvas.getContext('2d')!;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, w, h);
    for (const { sheet: one, left, top } of pieces)
      drawGuides(ctx, { ...view, x: view.x - left, y: view.y - top }, template, one.key, guides, {
        pictures,
        layout,
        strength: ghost.below ? 0 : ghost.strength,
      });
  }, [
    view,
    pieces,
    map,
    channel,
    sheet,
    shows,
    under,
    surround,
    maskAlone,
    chosen,
    ghost,
    template,
    guides,
    lettersReady,
    pictures,
    layout,
  ]);
  return { pieces, art, over, painter };
}

/** Keeps the view to the paper: as large as what it lies in, fitted once to what is worked on, turned and zoomed by the wheel. @returns for the paper */
export function useFittedPaper(pieces: ReturnType<typeof piecesOf>) {
  const livery = useLivery();
  const { sheet, run } = useSessionOf('sheet', 'run');
  const pinned = useMemo(
    () => (livery.references ?? []).filter((one) => one.sheet === sheet && !one.pairs),
    [livery.references, sheet],
  );
  const width = useView((v) => v.width);
  const paper = useRef<HTMLDivElement>(null);
  const fitted = useRef<string | null>(null);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const seen = entry.contentRect;
      if (seen.width < 2 || seen.height < 2) return;
      setSeen({ width: seen.width, height: seen.height });
    });
    watch.observe(paper.current!.parentElement!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    // Sheets of one surface share a view; what is in it stays when another of them is worked on.
    const looked = `${pieces.length > 1 ? run : sheet} ${pinned.length}`;
    if (width < 2 || fitted.current === looked) return;
    fitted.current = looked;
    useView.setState(fitView(useView.getState(), takeWanted() ?? around(pieces, pinned)));
  }, [sheet, run, pieces, pinned, width]);
  useEffect(() => {
    // React listens to wheels passively; this one must keep the page from scrolling.
    const element = paper.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const v = useView.getState();
      if (event.shiftKey) {
        const way = toPaper(v, (event.deltaX || event.deltaY) / v.zoom, 0);
        useView.setState({ x: v.x + way.x, y: v.y + way.y });
      } else {
        const at = onPaper(element, event);
        useView.setState(zoomAt(v, Math.exp(-event.deltaY / 400), at.x, at.y));
      }
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, []);
  return paper;
}
