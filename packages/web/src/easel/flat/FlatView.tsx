import useSWR from 'swr';
import { memo, useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { boundsOf } from '@wet-lacquer/core/livery/arrange.ts';
import { findLayer, layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { sentenceOf } from '../../lib/api.ts';
import { uploadDecal } from '../../parts/DecalShelf.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { addLayer, setLayer } from '../actions.ts';
import { decalLayer } from '../buildup/makers.ts';
import { useEachShown, useEasel, useLivery, useTemplate } from '../context.ts';
import { isPainting, paintWith, useHand } from '../hand.ts';
import { commandFor, type Reach } from '../commands/commands.ts';
import { keyName } from '../commands/keys.ts';
import { alone } from '../solo.ts';
import { choose, setTrouble, useSession, useSessionOf } from '../session.ts';
import { FlatBar } from './FlatBar.tsx';
import { HandBar } from './HandBar.tsx';
import { BrushRing, moveRing } from './BrushRing.tsx';
import { isPalm, startStroke } from './strokes.ts';
import { SnapLines } from './SnapLines.tsx';
import { shownGrid, SNAP_PX, snapBox, snapLines, useSnapped } from './snapping.ts';
import { Rulers } from './Rulers.tsx';
import { startTape, TapedOff } from './tape.tsx';
import { keepToPatch } from './patch.ts';
import { PinnedPictures } from './PinnedPictures.tsx';
import { useGuidePictures } from './guidePictures.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { drawGuides, GUIDE_FONT } from './guides.ts';
import { Handles, useLetteringWidth } from './Handles.tsx';
import { frameOf, holds, moved, type Point } from './placing.ts';
import { around, pieceAt, piecesOf } from './pieces.ts';
import { TilePainter } from './tilePainter.ts';
import { fit, onPaper, setSeen, texelAt, toPaper, toScreen, useView, zoomAt, type View } from './view.ts';

/** A press that moves less than this is a click. */
const CLICK_PX = 4;

/**
 * The sheet, upright, with its guides and the chosen layer's handles.
 * @param bars with what stands along its head and its foot
 */
export const FlatView = memo(function FlatView({ reach, bars }: { reach: Reach; bars: boolean }) {
  const { doc, flat, model } = useEasel();
  const template = useTemplate();
  const livery = useLivery();
  const {
    sheet: sheetKey,
    map,
    run,
    chosen,
    guides,
    surround,
    channel,
    under,
    ghost,
    maskAlone,
    solo,
    trouble,
  } = useSessionOf(
    'sheet',
    'map',
    'run',
    'chosen',
    'guides',
    'surround',
    'channel',
    'under',
    'ghost',
    'maskAlone',
    'solo',
    'trouble',
  );
  const sheet = template.sheets.find((s) => s.key === sheetKey)!;
  const pieces = useMemo(() => piecesOf(template, sheetKey, run), [template, sheetKey, run]);
  const pinned = useMemo(
    () => (livery.references ?? []).filter((one) => one.sheet === sheetKey),
    [livery.references, sheetKey],
  );
  const view = useView();
  const hand = useHand((h) => h.hand);
  const patch = useHand((h) => h.patch);
  const box = useRef<HTMLDivElement>(null);
  const art = useRef<HTMLCanvasElement>(null);
  const over = useRef<HTMLCanvasElement>(null);
  const painter = useRef<TilePainter | null>(null);
  const fitted = useRef<string | null>(null);
  const [panning, setPanning] = useState(false);
  const [lettersReady, setLettersReady] = useState(false);
  /** The space bar is down: a press moves the view, whatever is in hand. */
  const spaceHeld = useRef(false);
  const hash = livery.pins.template;
  const pictures = useGuidePictures(template, hash, sheetKey, guides);
  const { data: layout } = useSWR<TemplateLayout>(guides.has('locator') ? `/templates/${hash}/layout` : null, {
    revalidateOnFocus: false,
  });

  useEffect(() => void document.fonts.load(GUIDE_FONT).then(() => setLettersReady(true)), []);

  useEffect(() => {
    const made = new TilePainter(art.current!, flat, setTrouble, () => isPainting(useHand.getState().hand));
    painter.current = made;
    return () => made.close();
  }, [flat]);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      if (width < 2 || height < 2) return;
      setSeen({ width, height });
    });
    watch.observe(box.current!.parentElement!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    // Sheets of one surface share a view; what is in it stays when another of them is worked on.
    const looked = `${pieces.length > 1 ? run : sheetKey} ${pinned.length}`;
    if (view.width < 2 || fitted.current === looked) return;
    fitted.current = looked;
    useView.setState(fit(useView.getState(), around(pieces, pinned)));
  }, [sheetKey, run, pieces, pinned, view.width]);
  useEffect(() => painter.current?.ready(), [hand]);
  useEachShown(
    useCallback(
      (shown: Livery) => painter.current?.show(solo && chosen ? alone(shown, chosen) : shown, chosen),
      [chosen, solo],
    ),
  );
  useEffect(() => {
    painter.current?.look(view, pieces, {
      map,
      channel,
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
  useEffect(() => {
    // React listens to wheels passively; this one must keep the page from scrolling.
    const element = box.current!;
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

  const layer = chosen ? (findLayer(livery, chosen as LayerId)?.layer ?? null) : null;
  const place = layer && findLayer(livery, layer.id);
  const onThisSheet = place !== null && place.sheet === sheetKey && place.map === map;
  const letteringWidth = useLetteringWidth(layer);

  const texelOf = (event: { clientX: number; clientY: number }) => texelAt(box.current!, event);

  const press = (down: PointerEvent<HTMLDivElement>) => {
    if ((down.button > 1 && down.button !== 5) || isPalm(down.nativeEvent)) return;
    down.currentTarget.focus({ preventScroll: true });
    // What was said of the last press is over with the next.
    setTrouble(null);
    down.currentTarget.setPointerCapture(down.pointerId);
    const from = texelOf(down);
    const pans = down.button === 1 || spaceHeld.current;
    if (!pans && patch) {
      useHand.setState({ patch: null });
      const place = { sheet: sheetKey, map, x: Math.floor(from.x), y: Math.floor(from.y) };
      return void keepToPatch(doc, flat, patch, place).catch((error: unknown) => setTrouble(sentenceOf(error)));
    }
    if (!pans && isPainting(hand)) {
      if (down.altKey) void pickAt(from);
      else startStroke(down, { doc, flat, model, painter: painter.current!, sheet, pieces, onTrouble: setTrouble });
      return;
    }
    if (!pans && hand === 'tape') return startTape(down, { flat, sheet, map, texelOf, onTrouble: setTrouble });
    const started = useView.getState();
    const frame = layer && onThisSheet && !layer.hidden ? frameOf(layer, letteringWidth) : null;
    const moves = !pans && down.button === 0 && layer && !layer.locked && frame && holds(frame, from);
    const lines = moves ? snapLines(template, sheetKey, layersOf(livery, sheetKey, map), layer) : [];
    /** Where the layer goes: with its sides and its middle on lines that are near, unless Alt is held. */
    const goes = (event: globalThis.PointerEvent): Point => {
      const to = texelOf(event);
      if (event.altKey || !frame) {
        useSnapped.setState({ lines: [], way: { from, to } });
        return to;
      }
      const { left, top, right, bottom } = boundsOf(frame);
      const [dx, dy] = [to.x - from.x, to.y - from.y];
      const box = { left: left + dx, top: top + dy, right: right + dx, bottom: bottom + dy };
      const { by, lines: held } = snapBox(box, lines, SNAP_PX / useView.getState().zoom, shownGrid());
      const snapped = { x: to.x + by.x, y: to.y + by.y };
      useSnapped.setState({ lines: held, way: { from, to: snapped } });
      return snapped;
    };
    let far = false;
    const element = down.currentTarget;
    const move = (event: globalThis.PointerEvent) => {
      if (!far && Math.hypot(event.clientX - down.clientX, event.clientY - down.clientY) < CLICK_PX) return;
      far = true;
      if (moves) doc.show({ do: 'set-layer', layer: layer.id, set: moved(layer, from, goes(event)) });
      else {
        setPanning(true);
        const way = toPaper(started, event.clientX - down.clientX, event.clientY - down.clientY);
        useView.setState({ x: started.x - way.x / started.zoom, y: started.y - way.y / started.zoom });
      }
    };
    const end = () => {
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', up);
      element.removeEventListener('pointercancel', cancel);
      window.removeEventListener('keydown', giveUp, true);
      setPanning(false);
      useSnapped.setState({ lines: [], way: null });
    };
    const cancel = () => {
      end();
      doc.show(null);
    };
    const giveUp = (event: globalThis.KeyboardEvent) => {
      if (event.key !== 'Escape' || !far) return;
      // It gives up the move, not the choice of the layer.
      event.stopPropagation();
      cancel();
    };
    const up = (event: globalThis.PointerEvent) => {
      const last = far && moves ? goes(event) : null;
      end();
      if (last && moves) setLayer(doc, layer.id, moved(layer, from, last), `Move ${layer.name}`);
      else if (!far && down.button === 0) void chooseAt(from);
    };
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', up);
    element.addEventListener('pointercancel', cancel);
    window.addEventListener('keydown', giveUp, true);
  };
  /** A colour from the art, or the place that clone takes from. */
  const pickAt = async (p: Point) => {
    if (hand === 'clone') {
      useHand.setState({ cloneFrom: { sheet: sheetKey, x: Math.floor(p.x), y: Math.floor(p.y) }, cloneOffset: null });
      return;
    }
    const { rgb } = await flat.ask('colourAt', { sheet: sheetKey, map, x: p.x, y: p.y }).catch(() => ({ rgb: null }));
    if (rgb) paintWith(livery, hexOfRgb(rgb));
  };
  const chooseAt = async (p: Point) => {
    const at = pieceAt(pieces, p.x, p.y);
    const on = at?.piece.sheet.key ?? sheetKey;
    const found = await flat.ask('layerAt', { sheet: on, map, x: at?.x ?? p.x, y: at?.y ?? p.y }).catch(() => null);
    // The texels of the view are those of the sheet that is worked on.
    if (at && on !== sheetKey) useView.setState((v) => ({ x: v.x - at.piece.left, y: v.y - at.piece.top }));
    choose(found, on, map);
  };

  const drop = async (event: React.DragEvent) => {
    event.preventDefault();
    const at = texelOf(event);
    for (const file of event.dataTransfer.files) {
      try {
        const decal = await uploadDecal(file);
        await addLayer(doc, decalLayer(decal, { ...at, sheet }), 'Marks');
      } catch (error) {
        setTrouble(`${file.name}: ${sentenceOf(error)}`);
      }
    }
  };

  const key = (event: KeyboardEvent) => {
    if (event.key === ' ') {
      event.preventDefault();
      spaceHeld.current = true;
      return;
    }
    const command = commandFor(keyName(event), 'sheet');
    if (!command) return;
    event.preventDefault();
    if (command.can?.(reach) !== false) command.run(reach);
  };

  return (
    <section aria-label="Flat sheet" style={{ position: 'relative', height: '100%', minWidth: 0, overflow: 'hidden' }}>
      <div
        ref={box}
        role="application"
        tabIndex={0}
        aria-label={`Sheet ${sheet.name}. Arrow keys move the chosen layer, plus and minus zoom, 0 shows all, 1 shows texels as they are.`}
        onPointerDown={press}
        onPointerMove={(event) => {
          moveRing(event.currentTarget, event);
          // While a stroke is painted all of the page's time is the stroke's.
          if (event.buttons !== 0 && isPainting(hand)) return;
          const p = texelOf(event);
          const at = pieceAt(pieces, p.x, p.y);
          useSession.setState({ hover: at && { from: 'flat', sheet: at.piece.sheet.key, x: at.x, y: at.y } });
        }}
        onPointerLeave={() => useSession.setState({ hover: null })}
        onKeyDown={key}
        onKeyUp={(event) => {
          if (event.key === ' ') spaceHeld.current = false;
        }}
        onBlur={() => {
          spaceHeld.current = false;
        }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => void drop(event)}
        style={{
          position: 'absolute',
          left: (view.seen.width - view.width) / 2,
          top: (view.seen.height - view.height) / 2,
          width: view.width,
          height: view.height,
          transform: `rotate(${view.turn}deg) scaleX(${view.mirrored ? -1 : 1})`,
          touchAction: 'none',
          cursor: panning ? 'grabbing' : isPainting(hand) || hand === 'tape' || patch ? 'crosshair' : 'default',
          outlineOffset: -2,
        }}
      >
        <canvas ref={art} data-testid="art" style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }} />
        <canvas
          ref={over}
          data-testid="guides"
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
        />
        {guides.has('rulers') && <Rulers view={view} sheet={sheetKey} top={30} />}
        <TapedOff sheet={sheet} />
        <PinnedPictures />
        {hand === 'place' && <Handles />}
        <SnapLines view={view} />
        <BrushRing sheet={sheetKey} />
        <ModelSpot view={view} sheet={sheetKey} />
      </div>
      {trouble && (
        <div style={{ position: 'absolute', left: 8, right: 8, top: 40 }}>
          <Notice level="error">{trouble}</Notice>
        </div>
      )}
      {bars && (
        <>
          <HandBar sheet={sheet} />
          <FlatBar sheet={sheet} layer={onThisSheet ? layer!.id : null} />
        </>
      )}
    </section>
  );
});

/** The texel that lies under the pointer on the model. */
function ModelSpot({ view, sheet }: { view: View; sheet: string }) {
  const hover = useSession((s) => (s.hover?.from === 'model' && s.hover.sheet === sheet ? s.hover : null));
  if (!hover) return null;
  const { x, y } = toScreen(view, hover.x, hover.y);
  return (
    <svg
      aria-hidden
      width={28}
      height={28}
      data-testid="model-spot"
      style={{ position: 'absolute', left: x - 14, top: y - 14, pointerEvents: 'none' }}
    >
      <circle cx={14} cy={14} r={9} fill="none" stroke="#101010" strokeWidth={4} />
      <circle cx={14} cy={14} r={9} fill="none" stroke={INK.accent} strokeWidth={2} />
    </svg>
  );
}
