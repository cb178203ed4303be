/** From a pointer that is pressed on the sheet to a stroke in the livery. */
import type { PointerEvent } from 'react';
import { heldIn } from '@wet-lacquer/core/held.ts';
import type { Brush } from '@wet-lacquer/core/paint/brush.ts';
import { wayBetween, type CloneWay } from '@wet-lacquer/core/paint/cloneOnModel.ts';
import type { PointerPoint } from '@wet-lacquer/core/paint/strokeMaker.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { holdsIn, mapsOf, type Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { cellAt } from '@wet-lacquer/core/surface/cells.ts';
import { faceNormal } from '@wet-lacquer/core/surface/edges.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { sentenceOf } from '../../lib/api.ts';
import type { Looking, PaintAsk, PaintPatch } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { commitAll } from '../actions.ts';
import type { EaselDocument } from '../document.ts';
import { brushOnSheet } from '../brushSize.ts';
import { paintIn, useHand } from '../hand.ts';
import { keepPixels } from '../pixels.ts';
import { announce, choose, useSession } from '../session.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { Piece } from './pieces.ts';
import { targetsOn, topBrushwork } from './strokeTargets.ts';
import type { TilePainter } from './tilePainter.ts';
import { texelAt } from './view.ts';

interface Bench {
  doc: EaselDocument;
  flat: RenderClient;
  model: RenderClient;
  painter: TilePainter;
  /** The sheet that is worked on, and all that are shown with it. */
  sheet: TemplateSheet;
  pieces: readonly Piece[];
  onTrouble(why: string): void;
  /** It is painted on the model. */
  onModel?: OnModel;
}

/** How a pointer over the model paints it. */
export interface OnModel {
  /** Where it is, in texels of the brush; null: beside what can be painted. */
  point(event: globalThis.PointerEvent): PointerPoint | null;
  rules: NonNullable<PaintAsk['model']>;
  /** As large as it is there, texels of the brush. */
  brush: Brush;
  /** The tiles that the model wears, and what of them the stroke changed. */
  looking(): readonly Looking[];
  patch(patches: readonly PaintPatch[]): void;
}

/** A pen that was near lately: the hand that holds it may rest on the sheet. */
let penSeen = -Infinity;
const PALM_MS = 800;
/** Bit of `buttons` for a pen's eraser end (W3C Pointer Events Level 3, 5.1.1.3). */
const ERASER = 32;
/** The stroke before has come into the livery. */
let settled: Promise<void> = Promise.resolve();
/** Where the last stroke ended, for straight lines. */
let ended: { sheet: string; map: string; point: PointerPoint } | null = null;

/** Whether a press is a palm that rests beside a pen. */
export function isPalm(event: { pointerType: string; timeStamp: number }): boolean {
  if (event.pointerType === 'pen') penSeen = event.timeStamp;
  return event.pointerType === 'touch' && event.timeStamp - penSeen < PALM_MS;
}

const pointOf = (event: globalThis.PointerEvent, paper: Element): PointerPoint => ({
  ...texelAt(paper, event),
  // A mouse has no pressure of its own; the standard gives it one half.
  pressure: event.pointerType === 'mouse' ? 1 : event.pressure,
  tiltX: event.tiltX || 0,
  tiltY: event.tiltY || 0,
});

/** Paints, rubs out or clones until the pointer is lifted. Escape lets the stroke go. */
export function startStroke(down: PointerEvent<HTMLElement>, bench: Bench): void {
  const { doc, flat, model, painter, sheet, pieces, onTrouble, onModel } = bench;
  // What is painted is colour, or a map's own values: that is what has to be seen.
  if (useSession.getState().shows !== 'paint') useSession.setState({ shows: 'paint' });
  const hand = useHand.getState();
  const { map } = useSession.getState();
  const element = down.currentTarget;
  const surface = pieces.length > 1;
  if (hand.hand === 'clone' && surface && !onModel)
    return onTrouble('Clone works on one sheet at a time or on the model: leave the surface first, or clone there.');
  const at = (event: globalThis.PointerEvent) => (onModel ? onModel.point(event) : pointOf(event, element));
  const first = at(down.nativeEvent);
  if (!first) return;
  const brush = onModel ? onModel.brush : brushOnSheet(hand, doc.use.getState().template, sheet, first);
  if (!brush) return onTrouble('Nothing of the model wears this place: a brush in millimetres has no size here.');
  const before = { chosen: useSession.getState().chosen, livery: doc.use.getState().livery };
  const targets = targetsOn(doc, pieces);
  const target = heldIn(targets, sheet.key);
  /** Brushwork was put on for this stroke: given up, it goes with it. */
  const fresh = findLayer(before.livery, target.layer.id) === null;
  const erases = hand.hand === 'rub' || (down.nativeEvent.buttons & ERASER) !== 0;
  const clones = hand.hand === 'clone' && !erases && target.on === 'layer';
  const { livery, template } = doc.use.getState();
  const offset = clones
    ? onModel
      ? cloneWay(template, first, onModel.rules.perTexel)
      : cloneOffset(sheet.key, first)
    : null;
  const from = mapsOf(sheet).find(({ key }) => key === hand.cloneMap && key !== map && !hand.everyMap);
  const clone = offset && { ...offset, ...(from && { map: from.key }) };
  const leave = (why: string) => {
    if (fresh) {
      doc.undo();
      choose(before.chosen);
    }
    onTrouble(why);
  };
  if (clones && !clone) return leave('Clone takes from somewhere: hold Alt and press on what is to be copied first.');
  const also = clone && hand.everyMap ? mapsOf(sheet).flatMap(({ key }) => (key === map ? [] : [key])) : [];
  if (clone && onModel && [map, ...also].some((key) => holdsIn(sheet, key) === 'normal'))
    return leave('Directions lie otherwise on every island: they are cloned on the sheet, not on the model.');
  const axis = template.sheets.find(({ key }) => key === sheet.key)?.axis;
  const symmetry =
    hand.symmetry === 'axis' && axis
      ? { kind: 'axis' as const, at: axis.at, across: axis.kind === 'vertical' ? ('x' as const) : ('y' as const) }
      : hand.symmetry === 'radial'
        ? { kind: 'radial' as const, x: sheet.width / 2, y: sheet.height / 2, count: hand.copies }
        : null;
  const cell = hand.wrap && !surface && !onModel ? cellAt(sheet, first.x, first.y) : null;
  const paint = paintIn(livery, hand.paint);
  const trouble = (error: unknown) => onTrouble(sentenceOf(error));
  painter.stroke(true);
  const begin = async () => {
    // The stroke before must be in the livery, and the renderer must know of it and of a new layer: it is told first, and answers in turn.
    await settled;
    flat.ask('livery', { livery: doc.use.getState().livery, hot: target.layer.id }).catch(trouble);
    const seed = Math.floor(Math.random() * 1e6);
    const asks = pieces.flatMap(({ sheet: { key }, left, top }): PaintAsk[] => {
      const takes = targets.get(key);
      if (!takes) return [];
      return [
        {
          ...{ sheet: key, map, layer: takes.layer.id, on: takes.on, left, top },
          how: erases ? 'erase' : 'paint',
          paint,
          brush,
          symmetry: symmetryFrom(symmetry, left, top),
          wrap: cell,
          clone,
          seed,
          ...(onModel && { model: onModel.rules }),
        },
      ];
    });
    await flat.ask('paintBegin', asks);
  };
  let waiting: PointerPoint[] = [];
  let straight = false;
  let busy = true;
  let over = false;
  let last = first;
  const looks = () => [painter.looking(), ...(onModel?.looking() ?? [])];
  const show = (patches: readonly PaintPatch[]) => {
    const flatLevel = painter.looking().level;
    painter.patch(
      map,
      patches.filter(({ level }) => level === flatLevel),
    );
    onModel?.patch(patches);
  };
  const send = () => {
    if (busy || waiting.length === 0) return;
    busy = true;
    const points = waiting;
    waiting = [];
    flat
      .ask('paintMove', { points, straight, looks: looks() })
      .then((patches) => over || show(patches))
      .catch(trouble)
      .finally(() => {
        busy = false;
        send();
      });
  };
  const constrained = (point: PointerPoint, event: { shiftKey: boolean }): PointerPoint => {
    if (!event.shiftKey || onModel) return point;
    // Straight along the nearer of both axes from where it began.
    return Math.abs(point.x - first.x) > Math.abs(point.y - first.y)
      ? { ...point, y: first.y }
      : { ...point, x: first.x };
  };
  const move = (event: globalThis.PointerEvent) => {
    if (event.pointerId !== down.pointerId) return;
    const all = event.getCoalescedEvents?.() ?? [];
    for (const one of all.length > 0 ? all : [event]) {
      const here = at(one);
      // Beside the model the brush is lifted.
      last = here ? constrained(here, event) : { ...last, lifted: true };
      waiting.push(last);
    }
    send();
  };
  const end = (keep: boolean) => {
    element.removeEventListener('pointermove', move);
    element.removeEventListener('pointerup', up);
    element.removeEventListener('pointercancel', cancel);
    window.removeEventListener('keydown', key, true);
    over = !keep;
    settled = begun
      .then(() => (waiting.length > 0 ? flat.ask('paintMove', { points: waiting, straight, looks: looks() }) : []))
      .then(() => flat.ask('paintEnd', { keep, last, also }))
      .then(async (done) => {
        if (done.length === 0) return;
        ended = onModel ? null : { sheet: sheet.key, map, point: last };
        const edits: SingleEdit[] = [];
        for (const { sheet: where, map: on, stroke, bytes } of done) {
          void model.ask('stroke', { blob: stroke.blob, bytes: bytes.slice() }).catch(() => {});
          await keepPixels(stroke.blob, bytes);
          const goesTo = on === map ? heldIn(targets, where) : topBrushwork(doc, where, on, edits);
          const whole = { ...stroke, id: crypto.randomUUID() };
          edits.push({ do: 'add-stroke', layer: goesTo.layer.id, on: goesTo.on, stroke: whole });
        }
        const [{ stroke }] = done;
        const verb = stroke.how === 'pixels' ? 'Clone on' : stroke.how === 'erase' ? 'Rub out on' : 'Paint on';
        const where = target.on === 'mask' ? `the mask of ${target.layer.name}` : target.layer.name;
        const more = done.flatMap(({ map: on }) => (on === map ? [] : [on]));
        commitAll(doc, edits, `${verb} ${where}${more.length > 0 ? ` and on ${more.join(', ')}` : ''}`);
        if (more.length > 0) announce(`Cloned on ${[map, ...more].join(', ')}`);
      })
      .catch(trouble)
      .finally(() => {
        painter.stroke(false);
        if (keep || !fresh) return;
        doc.undo();
        choose(before.chosen);
      });
  };
  const up = (event: globalThis.PointerEvent) => event.pointerId === down.pointerId && end(true);
  const cancel = () => end(false);
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    end(false);
  };
  const begun = begin();
  begun.then(() => {
    busy = false;
    send();
  }, trouble);
  element.addEventListener('pointermove', move);
  element.addEventListener('pointerup', up);
  element.addEventListener('pointercancel', cancel);
  window.addEventListener('keydown', key, true);
  if (down.shiftKey && !onModel && ended?.sheet === sheet.key && ended.map === map) {
    // A straight line from where the last stroke ended.
    straight = true;
    waiting.push(ended.point, first);
  } else waiting.push(first);
}

/** The same symmetry in texels of a sheet that lies elsewhere. */
function symmetryFrom(symmetry: PaintAsk['symmetry'], left: number, top: number): PaintAsk['symmetry'] {
  if (symmetry?.kind === 'axis') return { ...symmetry, at: symmetry.at - (symmetry.across === 'x' ? left : top) };
  return symmetry && { ...symmetry, x: symmetry.x - left, y: symmetry.y - top };
}

/** The same on the model, by the place that wears the texel. */
function cloneWay(template: Template, first: PointerPoint, perTexel: number): { way: CloneWay } | null {
  const { cloneFrom, cloneWay: kept, aligned } = useHand.getState();
  if (!cloneFrom || first.z === undefined || first.triangle === undefined) return null;
  if (aligned && kept) return { way: kept };
  const from = spotOfTexel(surfaceOf(template, cloneFrom.sheet), cloneFrom.x + 0.5, cloneFrom.y + 0.5);
  const facing = faceNormal(template.mesh, first.triangle);
  if (!from || !facing) return null;
  const at = [first.x, first.y, first.z].map((v) => v * perTexel) as [number, number, number];
  const way = wayBetween({ at, facing }, { at: from.position, facing: from.normal });
  useHand.setState({ cloneWay: way });
  return { way };
}

/** From where clone takes to where it goes; an aligned one keeps its way from stroke to stroke. */
function cloneOffset(sheet: string, first: PointerPoint): { dx: number; dy: number } | null {
  const { cloneFrom, cloneOffset: kept, aligned } = useHand.getState();
  if (cloneFrom?.sheet !== sheet) return null;
  if (aligned && kept) return kept;
  const made = { dx: Math.round(first.x - cloneFrom.x), dy: Math.round(first.y - cloneFrom.y) };
  useHand.setState({ cloneOffset: made });
  return made;
}
