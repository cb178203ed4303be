import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { VIEWS } from '@wet-lacquer/core/projectors/place.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { ART, INK } from '../../theme.ts';
import { useEasel, useTemplate } from '../context.ts';
import { isPainting, useHand } from '../hand.ts';
import { pinOnModel, useNoting } from '../notes/notes.ts';
import { ModelPins } from '../notes/Pins.tsx';
import { PlateHandles } from '../plates/PlateHandles.tsx';
import { useStoodPlates } from '../plates/useStoodPlates.ts';
import { choose, choosePlate, useSession } from '../session.ts';
import type { LightPreset } from '../../parts/lamps.ts';
import { Stage, type ModelSpot } from '../../parts/stage.ts';
import { hasWebGl } from '../../parts/stageTextures.ts';
import type { EaselDocument } from '../document.ts';
import { endLine, lineTo, takeBack, useLineDrawing } from './lineDrawing.ts';
import { LinePlaces, ModelHandles } from './ModelHandles.tsx';
import { leaveAway, showWhole, useModelView } from './modelView.ts';
import { paintOnModel, pickOnModel, ringOn } from './paintOnModel.ts';
import { ModelTextures } from './textures.ts';
import { dropCorners, TapeOutline, tapeOnModel } from './tapeOnModel.tsx';
import { PhotoOver } from './PhotoOver.tsx';
import { leavePhoto, usePhoto } from './photo.ts';
import { TurntableBar } from './TurntableBar.tsx';
import { useModelLook } from './useModelLook.ts';
import { useStageView } from './useStageView.ts';

const CLICK_PX = 4;
const SIDES = Object.values(VIEWS);
/** What keys do about the view. @param part under the pointer */
const VIEW_KEYS: Record<string, ((stage: Stage | null, part: string | null) => void) | undefined> = {
  o: () => useModelView.setState(({ parallel }) => ({ parallel: !parallel })),
  f: (stage, part) => stage?.frame(part === null ? null : new Set([part])),
  h: (_stage, part) => part !== null && leaveAway(part, true),
  H: showWhole,
  l: (stage) => stage?.turnLight(15),
  L: (stage) => stage?.turnLight(-15),
};
/** While a line is drawn on the model. */
const LINE_KEYS: Record<string, ((doc: EaselDocument) => void) | undefined> = {
  Enter: (doc) => endLine(doc, true),
  Escape: (doc) => endLine(doc, false),
  Backspace: takeBack,
};

/** The model, live. Hovering marks the same spot on the flat sheet; a click chooses sheet and layer there. */
export function Turntable() {
  const easel = useEasel();
  const { model, flat } = easel;
  const drawing = useLineDrawing(({ layer }) => layer !== null);
  const painting = useHand(({ hand }) => isPainting(hand));
  const taping = useHand(({ hand }) => hand === 'tape');
  const pinning = useNoting((s) => s.pinning);
  const template = useTemplate();
  const hover = useSession((s) => s.hover);
  const canvas = useRef<HTMLCanvasElement>(null);
  const cloneFrom = useHand(({ hand, cloneFrom: from }) => (hand === 'clone' ? from : null));
  const spot = useMemo(() => {
    // What the pointer is over on the sheet, else what Clone takes from.
    const at =
      hover?.from === 'flat' ? hover : cloneFrom && { ...cloneFrom, x: cloneFrom.x + 0.5, y: cloneFrom.y + 0.5 };
    return at && spotOfTexel(surfaceOf(template, at.sheet), at.x, at.y);
  }, [hover, template, cloneFrom]);
  const stage = useRef<Stage | null>(null);
  const [shown, setShown] = useState<Stage | null>(null);
  const [painted, setPainted] = useState<ModelTextures | null>(null);
  const textures = useRef<ModelTextures | null>(null);
  const [light, setLight] = useState<LightPreset>('Overcast');
  const [spinning, setSpinning] = useState(false);
  const [pointed, setPointed] = useState<string | null>(null);
  /** The part under the pointer, by its key. */
  const under = useRef<string | null>(null);
  const [able] = useState(hasWebGl);

  useEffect(() => {
    const made = new ModelTextures(template, model, () => stage.current?.draw());
    textures.current = made;
    stage.current = able ? new Stage(canvas.current!, template, made.bySheet) : null;
    setShown(stage.current);
    setPainted(made);
    stage.current?.fill();
    return () => {
      stage.current?.close();
      stage.current = null;
      made.close();
    };
  }, [template, model, able]);
  useModelLook(shown, painted, light);
  useStoodPlates(shown);
  useEffect(() => {
    stage.current?.spin(spinning);
    return () => stage.current?.spin(false);
  }, [spinning]);
  useStageView(shown, painting);
  useEffect(
    () => () => {
      showWhole();
      leavePhoto();
    },
    [template.mesh],
  );
  const selections = useHand((h) => h.selections);
  useEffect(
    () => shown?.tape(selections.length > 0 ? new Map(selections.map((one) => [one.sheet, one])) : null),
    [shown, selections],
  );
  // The middle is a guide: shown on the model wherever it is shown on the sheet.
  const middle = useSession((s) => s.guides.has('axis'));
  useEffect(() => stage.current?.middle(middle), [middle, template, model, able]);
  useEffect(() => {
    stage.current?.mark(spot);
  }, [spot]);

  const part = hover?.from === 'flat' ? template.parts.find((p) => p.key === spot?.part)?.name : hover && pointed;
  const spotOf = (event: { clientX: number; clientY: number }): ModelSpot | null =>
    stage.current?.spotUnder(event) ?? null;
  const texelOf = (spot: ModelSpot) => {
    const on = template.sheets.find((s) => s.key === spot.sheet);
    return on ? { sheet: on.key, x: spot.u * on.width, y: spot.v * on.height } : null;
  };
  const move = (event: PointerEvent) => {
    // While a stroke is painted all of the page's time is the stroke's.
    if (event.buttons !== 0 && painting) return;
    const spot = spotOf(event);
    const at = spot && texelOf(spot);
    under.current = spot?.partKey ?? null;
    setPointed(spot?.part ?? null);
    ringOn(stage.current, template, painting ? spot : null);
    useSession.setState({ hover: at ? { from: 'model', ...at } : null });
  };
  // Before the model hears of it, which it would turn by.
  const paint = (down: PointerEvent<HTMLCanvasElement>) => {
    const { hand } = useHand.getState();
    if (down.button !== 0 || !stage.current || pinning) return;
    if (hand === 'tape') {
      const here = stage.current;
      here.hold(true);
      window.addEventListener('pointerup', () => here.hold(false), { once: true });
      return tapeOnModel(down, { easel, stage: here, template, spotOf });
    }
    if (down.altKey || !isPainting(hand)) return;
    if (textures.current) paintOnModel(down, easel, stage.current, textures.current, spotOf);
  };
  const press = (down: PointerEvent<HTMLCanvasElement>) => {
    if (down.button !== 0 || (taping && !pinning)) return;
    const picks = !pinning && isPainting(useHand.getState().hand);
    if (picks && !down.altKey) return;
    const up = (event: globalThis.PointerEvent) => {
      window.removeEventListener('pointerup', up);
      if (Math.hypot(event.clientX - down.clientX, event.clientY - down.clientY) >= CLICK_PX) return;
      if (picks) return void pickOnModel(easel, template, spotOf(event));
      if (pinning) return pinOnModel(template, spotOf(event));
      const { matching } = usePhoto.getState();
      const plate = drawing || matching ? null : (stage.current?.plateUnder(event) ?? null);
      if (plate) return choosePlate(plate);
      const spot = spotOf(event);
      const at = spot && texelOf(spot);
      if (spot && matching) return usePhoto.setState({ matching: { ...matching, place: spot.position } });
      if (!spot || !at) return;
      if (drawing) return lineTo(easel.doc, spot);
      flat
        .ask('layerAt', { ...at, map: 'colour' })
        .then((layer) => choose(layer, at.sheet, 'colour'))
        .catch(() => choose(null, at.sheet));
    };
    window.addEventListener('pointerup', up);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'Escape' && dropCorners()) return event.stopPropagation();
    const line = drawing && LINE_KEYS[event.key];
    if (line) {
      event.preventDefault();
      event.stopPropagation();
      return line(easel.doc);
    }
    // The photo is left for any other view.
    if (event.key.startsWith('Arrow') || /^[0-6]$/.test(event.key)) usePhoto.setState({ through: null });
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-10, 0],
      ArrowRight: [10, 0],
      ArrowUp: [0, 8],
      ArrowDown: [0, -8],
    };
    if (by[event.key]) {
      event.preventDefault();
      stage.current?.orbit(...by[event.key]);
    } else if (VIEW_KEYS[event.key]) {
      event.stopPropagation();
      VIEW_KEYS[event.key]!(stage.current, under.current);
    } else if (event.key === '+' || event.key === '=') stage.current?.zoom(0.87);
    else if (event.key === '-') stage.current?.zoom(1.15);
    else if (event.key === '0') stage.current?.home();
    else if (SIDES[Number(event.key) - 1]) stage.current?.lookFrom(SIDES[Number(event.key) - 1]);
  };

  return (
    <section
      aria-label="Turntable"
      style={{ position: 'relative', height: '100%', minWidth: 0, overflow: 'hidden', background: ART.stage }}
    >
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label={`The model, ${template.name}. Arrow keys turn it, plus and minus zoom, 1 to 6 look from its sides, 0 goes back, O takes the perspective away, F brings the part under the pointer near, H leaves it away, L carries the lamps round; so does a pointer with Alt.`}
        onPointerMove={move}
        onPointerDownCapture={paint}
        onPointerDown={press}
        onPointerLeave={() => {
          under.current = null;
          stage.current?.ring(null);
          useSession.setState({ hover: null });
        }}
        onKeyDown={key}
        style={{
          ...{ width: '100%', height: '100%', display: 'block', outlineOffset: -2, touchAction: 'none' },
          cursor: painting || drawing || taping || pinning ? 'crosshair' : undefined,
        }}
      />
      <TapeOutline />
      {shown && <ModelPins stage={shown} />}
      {shown && <PhotoOver stage={shown} />}
      {shown && !painting && !taping && (drawing ? <LinePlaces stage={shown} /> : <ModelHandles stage={shown} />)}
      {shown && !painting && !taping && !drawing && <PlateHandles stage={shown} />}
      {!able && (
        <div style={{ position: 'absolute', inset: 0, background: INK.room }}>
          <Nothing title="The model cannot be shown">
            This browser has no WebGL. The flat sheet, delivery and everything else work without it.
          </Nothing>
        </div>
      )}
      <TurntableBar
        {...{ stage: shown, light, spinning, part }}
        onLight={setLight}
        onSpin={() => setSpinning(!spinning)}
      />
    </section>
  );
}
