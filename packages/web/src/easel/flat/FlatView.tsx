import { memo, useRef, useState, type DragEvent, type KeyboardEvent, type PointerEvent } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { sentenceOf } from '../../lib/api.ts';
import { uploadDecal } from '../../parts/DecalShelf.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ART } from '../../theme.ts';
import { addLayer } from '../actions.ts';
import { decalLayer } from '../buildup/makers.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { isPainting, NO_WAY, paintWith, useHand } from '../hand.ts';
import { commandFor, type Reach } from '../commands/commands.ts';
import { keyName } from '../commands/keys.ts';
import { choose, setTrouble, useSession, useSessionOf } from '../session.ts';
import { FlatBar } from './FlatBar.tsx';
import { HandBar } from './HandBar.tsx';
import { BrushRing, moveRing } from './BrushRing.tsx';
import { isPalm, startStroke } from './strokes.ts';
import { PlateFrames } from '../plates/PlateFrames.tsx';
import { pinAt, useNoting } from '../notes/notes.ts';
import { Pinning } from '../notes/Pinning.tsx';
import { SheetPins } from '../notes/Pins.tsx';
import { SnapLines } from './SnapLines.tsx';
import { Rulers } from './Rulers.tsx';
import { startTape, TapedOff } from './tape.tsx';
import { keepToPatch } from './patch.ts';
import { PinnedPictures } from './PinnedPictures.tsx';
import { Handles, useLetteringWidth } from './Handles.tsx';
import type { Point } from './placing.ts';
import { pieceAt } from './pieces.ts';
import { startPress } from './press.ts';
import { Baking } from './Baking.tsx';
import { ZoneLegend } from './ZoneLegend.tsx';
import { useFittedPaper, useSheetCanvas } from './useSheetCanvas.ts';
import { texelAt, toScreen, useView, type View } from './view.ts';
import { twoFingers } from './twoFingers.ts';

/**
 * The sheet, upright, with its guides and the chosen layer's handles.
 * @param bars with what stands along its head and its foot
 */
export const FlatView = memo(function FlatView({ reach, bars }: { reach: Reach; bars: boolean }) {
  const { doc, flat, model } = useEasel();
  const template = useTemplate();
  const livery = useLivery();
  const { sheet: sheetKey, map, chosen, guides, trouble } = useSessionOf('sheet', 'map', 'chosen', 'guides', 'trouble');
  const sheet = sheetNamed(template, sheetKey);
  const { pieces, art, over, painter } = useSheetCanvas();
  const paper = useFittedPaper(pieces);
  const view = useView();
  const hand = useHand((h) => h.hand);
  const patch = useHand((h) => h.patch);
  const pinning = useNoting((s) => s.pinning);
  const [fingers] = useState(twoFingers);
  const [panning, setPanning] = useState(false);
  /** The space bar is down: a press moves the view, whatever is in hand. */
  const spaceHeld = useRef(false);

  const place = chosen ? findLayer(livery, chosen as LayerId) : null;
  const here = place && place.sheet === sheetKey && place.map === map ? place.layer : null;
  const letteringWidth = useLetteringWidth(place?.layer ?? null);

  const texelOf = (event: { clientX: number; clientY: number }) => texelAt(paper.current!, event);

  const press = (down: PointerEvent<HTMLDivElement>) => {
    if ((down.button > 1 && down.button !== 5) || isPalm(down.nativeEvent)) return;
    down.currentTarget.focus({ preventScroll: true });
    // What was said of the last press is over with the next.
    setTrouble(null);
    down.currentTarget.setPointerCapture(down.pointerId);
    const from = texelOf(down);
    const pans = down.button === 1 || spaceHeld.current;
    if (!pans && pinning) {
      const at = pieceAt(pieces, from.x, from.y);
      return pinAt(at?.piece.sheet, at?.x ?? 0, at?.y ?? 0, null);
    }
    if (!pans && patch) {
      useHand.setState({ patch: null });
      const at = { sheet: sheetKey, map, x: Math.floor(from.x), y: Math.floor(from.y) };
      return void keepToPatch(doc, flat, patch, at).catch((error: unknown) => setTrouble(sentenceOf(error)));
    }
    if (!pans && isPainting(hand)) {
      if (down.altKey) void pickAt(from);
      else startStroke(down, { doc, flat, model, painter: painter.current!, sheet, pieces, onTrouble: setTrouble });
      return;
    }
    if (!pans && hand === 'tape') return startTape(down, { flat, sheet, map, texelOf, onTrouble: setTrouble });
    const layer = here && !here.hidden ? here : null;
    const onClick = (at: Point) => void chooseAt(at);
    startPress(down, { doc, sheet: sheetKey, map, layer, letteringWidth, pans, onPanning: setPanning, onClick });
  };
  /** A colour from the art, or the place that clone takes from. */
  const pickAt = async (p: Point) => {
    if (hand === 'clone') {
      useHand.setState({ cloneFrom: { sheet: sheetKey, x: Math.floor(p.x), y: Math.floor(p.y) }, ...NO_WAY });
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
  const hoverAt = (event: PointerEvent<HTMLDivElement>) => {
    moveRing(event.currentTarget, event);
    // While a stroke is painted all of the page's time is the stroke's.
    if (event.buttons !== 0 && isPainting(hand)) return;
    const p = texelOf(event);
    const at = pieceAt(pieces, p.x, p.y);
    useSession.setState({ hover: at && { from: 'flat', sheet: at.piece.sheet.key, x: at.x, y: at.y } });
  };
  const drop = async (event: DragEvent) => {
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
    <section
      aria-label="Flat sheet"
      {...fingers}
      style={{ position: 'relative', height: '100%', minWidth: 0, overflow: 'hidden' }}
    >
      <div
        ref={paper}
        role="application"
        tabIndex={0}
        aria-label={`Sheet ${sheet.name}. Arrow keys move the chosen layer, plus and minus zoom, 0 shows all, 1 shows texels as they are.`}
        onPointerDown={press}
        onPointerMove={hoverAt}
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
          cursor: panning
            ? 'grabbing'
            : isPainting(hand) || hand === 'tape' || patch || pinning
              ? 'crosshair'
              : 'default',
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
        <PlateFrames view={view} />
        <SnapLines view={view} />
        <BrushRing sheet={sheetKey} />
        <ModelSpot view={view} sheet={sheetKey} />
        <SheetPins pieces={pieces} view={view} />
      </div>
      {trouble && (
        <div style={{ position: 'absolute', left: 8, right: 8, top: 40 }}>
          <Notice level="error">{trouble}</Notice>
        </div>
      )}
      <Pinning />
      <Baking />
      <ZoneLegend sheet={sheet} />
      {bars && (
        <>
          <HandBar sheet={sheet} />
          <FlatBar sheet={sheet} layer={here?.id ?? null} />
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
      <circle cx={14} cy={14} r={9} fill="none" stroke={ART.casing} strokeWidth={4} />
      <circle cx={14} cy={14} r={9} fill="none" stroke={ART.chosen} strokeWidth={2} />
    </svg>
  );
}
