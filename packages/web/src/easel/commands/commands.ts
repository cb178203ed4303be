/** What is done often, each once: the keys, the finder and the sheet of keys all come from here. */
import { findLayer, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { placesOf } from '@wet-lacquer/core/surface/places.ts';
import { partUp } from '@wet-lacquer/core/surface/partUp.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { Plate } from '@wet-lacquer/core/livery/plate.ts';
import { fitPlate } from '@wet-lacquer/core/plates/fit.ts';
import { duplicateLayer, groupLayers, removeLayer, setLayer, toggle, ungroup } from '../actions.ts';
import type { EaselDocument } from '../document.ts';
import { around, piecesOf } from '../flat/pieces.ts';
import { GUIDES } from '../flat/guides.ts';
import { fitView, mirrorView, toPaper, turnTo, turnView, upright, useView, zoomAt } from '../flat/view.ts';
import { HANDS, setBrush, takeInHand, useHand } from '../hand.ts';
import { addPlate, duplicatePlate, removePlate, setPlate } from '../plates/acts.ts';
import { lightRoom, ROOMS_TO_CHOOSE } from '../../shell/room.ts';
import { swapSides } from '../../shell/sides.ts';
import { SHOWS, showsOf } from '../shows.ts';
import { choose, announce, toggleGuide, useSession, type Column } from '../session.ts';

export type Dialog = 'find' | 'keys' | 'versions';

/** What a command can reach. */
export interface Reach {
  doc: EaselDocument;
  open(dialog: Dialog): void;
}

export const GROUPS = ['In hand', 'Layers', 'Placing', 'View', 'Livery'] as const;

export interface Command {
  name: string;
  group: (typeof GROUPS)[number];
  /** As keyName says them; the first is shown. */
  keys?: readonly string[];
  /** Where the keys hold: letters alone only where something is worked on, so that nobody hits them by chance. Left out: everywhere. */
  on?: 'sheet' | 'shelf' | 'both';
  /** The key holds even while a field is written in. */
  always?: true;
  /** Whether there is anything to do it to. */
  can?(reach: Reach): boolean;
  run(reach: Reach): void;
}

export function chosenLayer(doc: EaselDocument): Layer | null {
  const { chosen, sheet, map } = useSession.getState();
  const place = chosen ? findLayer(doc.use.getState().livery, chosen as LayerId) : null;
  return place?.sheet === sheet && place.map === map ? place.layer : null;
}

const withLayer = (run: (layer: Layer, doc: EaselDocument) => void): Pick<Command, 'can' | 'run'> => ({
  can: ({ doc }) => chosenLayer(doc) !== null,
  run: ({ doc }) => {
    const layer = chosenLayer(doc);
    if (layer) run(layer, doc);
  },
});

const chosenPlate = (doc: EaselDocument): Plate | null =>
  doc.use.getState().livery.plates?.find(({ id }) => id === useSession.getState().plate) ?? null;

/** What is done to the chosen layer, or to the chosen plate. */
const withChosen = (
  layer: (layer: Layer, doc: EaselDocument) => void,
  plate: (doc: EaselDocument, plate: Plate) => void,
): Pick<Command, 'can' | 'run'> => ({
  can: ({ doc }) => chosenLayer(doc) !== null || chosenPlate(doc) !== null,
  run({ doc }) {
    const [one, other] = [chosenLayer(doc), chosenPlate(doc)];
    if (one) layer(one, doc);
    else if (other) plate(doc, other);
  },
});

const zoom = (factor: number) => () => {
  const view = useView.getState();
  useView.setState(zoomAt(view, factor, view.width / 2, view.height / 2));
};

function fitAll(doc: EaselDocument): void {
  const { sheet, run } = useSession.getState();
  const { livery, template } = doc.use.getState();
  const pinned = (livery.references ?? []).filter((one) => one.sheet === sheet && !one.pairs);
  useView.setState(fitView(useView.getState(), around(piecesOf(template, sheet, run), pinned)));
}

/** Turns the view so that the part under the pointer, or in the middle of the view, stands upright. */
export function turnToPart(doc: EaselDocument): void {
  const { sheet, hover } = useSession.getState();
  const { template } = doc.use.getState();
  const { x, y } = hover?.from === 'flat' && hover.sheet === sheet ? hover : useView.getState();
  const under = placesOf(template, sheet)
    .filter((part) => x >= part.left && x < part.right && y >= part.top && y < part.bottom)
    // Of several, the smallest box is the likeliest.
    .sort((a, b) => (a.right - a.left) * (a.bottom - a.top) - (b.right - b.left) * (b.bottom - b.top))[0];
  if (!under) return announce('No part lies there');
  const turn = partUp(template, sheet, under.keys[0]);
  if (turn === null) return announce(`${under.name} has no upright of its own`);
  const { mirrored } = useView.getState();
  turnTo(Math.round(mirrored ? -turn : turn));
  announce(`${under.name} stands upright`);
}

const brushSize = (factor: number) => () => {
  const { size } = useHand.getState().brush;
  const next = factor > 1 ? Math.max(size + 1, size * factor) : Math.min(size - 1, size * factor);
  setBrush({ size: Math.max(1, Math.min(2000, Math.round(next))) });
};

/** Moves the chosen layer, or what is in view when none is chosen. */
const nudge =
  (dx: number, dy: number) =>
  ({ doc }: Reach) => {
    const layer = chosenLayer(doc);
    if (!layer)
      return useView.setState((v) => {
        const way = toPaper(v, (dx * 40) / v.zoom, (dy * 40) / v.zoom);
        return { x: v.x + way.x, y: v.y + way.y };
      });
    if ('x' in layer && !layer.locked)
      setLayer(doc, layer.id, { x: layer.x + dx, y: layer.y + dy }, `Move ${layer.name}`);
  };
const ARROWS: readonly [string, number, number][] = [
  ['ArrowLeft', -1, 0],
  ['ArrowRight', 1, 0],
  ['ArrowUp', 0, -1],
  ['ArrowDown', 0, 1],
];

const column = (key: Column, name: string): Command => ({
  name: `Show ${name}`,
  group: 'Livery',
  run: () => useSession.setState({ column: key }),
});

const COMMON: readonly Command[] = [
  ...HANDS.map(({ key, hand, name, does = name }): Command => ({
    name: does,
    group: 'In hand',
    keys: [key],
    on: 'sheet',
    run: () => takeInHand(hand),
  })),
  { name: 'Larger brush', group: 'In hand', keys: ['.'], on: 'sheet', run: brushSize(1.15) },
  { name: 'Smaller brush', group: 'In hand', keys: [','], on: 'sheet', run: brushSize(1 / 1.15) },
  {
    name: 'Put everything down, then let go of the layer',
    group: 'In hand',
    keys: ['Escape'],
    on: 'sheet',
    run: () => (useHand.getState().hand === 'place' ? choose(null) : takeInHand('place')),
  },

  {
    name: 'Delete',
    group: 'Layers',
    keys: ['Delete'],
    on: 'both',
    ...withChosen((layer, doc) => removeLayer(doc, layer.id), removePlate),
  },
  {
    name: 'Duplicate',
    group: 'Layers',
    keys: ['Ctrl D'],
    ...withChosen((layer, doc) => duplicateLayer(doc, layer.id), duplicatePlate),
  },
  {
    name: 'Put a plate on the model',
    group: 'Layers',
    can: ({ doc }) => doc.use.getState().template.sheets.some(({ plates }) => plates),
    run: ({ doc }) => addPlate(doc),
  },
  {
    name: 'Fit the chosen plate to the surface',
    group: 'Placing',
    can: ({ doc }) => chosenPlate(doc) !== null,
    run({ doc }) {
      const plate = chosenPlate(doc);
      if (plate) setPlate(doc, plate, fitPlate(plate, doc.use.getState().template), 'Fit');
    },
  },
  {
    name: 'Group what is chosen',
    group: 'Layers',
    keys: ['Ctrl G'],
    ...withLayer((layer, doc) => groupLayers(doc, [layer.id, ...useSession.getState().also])),
  },
  {
    name: 'Take the group apart',
    group: 'Layers',
    keys: ['Ctrl Shift G'],
    ...withLayer((layer, doc) => ungroup(doc, layer.id)),
    can: ({ doc }) => chosenLayer(doc)?.kind === 'group',
  },
  {
    name: 'Hide or show',
    group: 'Layers',
    keys: ['H'],
    on: 'both',
    ...withChosen(
      (layer, doc) => toggle(doc, layer.id, 'hidden'),
      (doc, plate) => setPlate(doc, plate, { hidden: plate.hidden ? null : true }, plate.hidden ? 'Show' : 'Hide'),
    ),
  },
  {
    name: 'Lock or unlock',
    group: 'Layers',
    keys: ['L'],
    on: 'both',
    ...withLayer((layer, doc) => toggle(doc, layer.id, 'locked')),
  },
  {
    name: 'Show the chosen layer alone',
    group: 'Layers',
    keys: ['S'],
    on: 'both',
    can: ({ doc }) => chosenLayer(doc) !== null,
    run: () => useSession.setState(({ solo }) => ({ solo: !solo })),
  },
  {
    name: 'Rename',
    group: 'Layers',
    keys: ['F2'],
    on: 'both',
    ...withLayer(() => useSession.setState({ column: 'chosen', focus: 'layer-name' })),
  },
  {
    name: 'Choose all layers of the sheet',
    group: 'Layers',
    keys: ['Ctrl A'],
    run: ({ doc }) => {
      const { sheet, map, chosen } = useSession.getState();
      const ids = layersOf(doc.use.getState().livery, sheet, map).map(({ id }) => id as string);
      const first = chosen && ids.includes(chosen) ? chosen : (ids[0] ?? null);
      useSession.setState({ chosen: first, also: new Set(ids.filter((id) => id !== first)) });
      announce(`${ids.length} layers chosen`);
    },
  },
  {
    name: 'The build-up as a list',
    group: 'Layers',
    keys: ['B'],
    on: 'both',
    run: () => useSession.setState(({ listOpen }) => ({ listOpen: !listOpen })),
  },

  ...ARROWS.flatMap(([key, dx, dy]): Command[] => {
    const way = key.slice(5).toLowerCase();
    return [
      { name: `Move ${way} by a texel`, group: 'Placing', keys: [key], on: 'sheet', run: nudge(dx, dy) },
      {
        name: `Move ${way} by ten`,
        group: 'Placing',
        keys: [`Shift ${key}`],
        on: 'sheet',
        run: nudge(dx * 10, dy * 10),
      },
    ];
  }),

  ...SHOWS.map(({ key, name }): Command => ({
    name: key === 'paint' ? 'Show the paint' : `Show ${name.toLowerCase()} alone`,
    group: 'View',
    can: ({ doc }) => showsOf(doc.use.getState().template).some((one) => one.key === key),
    run: () => useSession.setState({ shows: key }),
  })),
  { name: 'Whole sheet', group: 'View', keys: ['0'], on: 'sheet', run: ({ doc }) => fitAll(doc) },
  {
    name: 'Texels as they are',
    group: 'View',
    keys: ['1'],
    on: 'sheet',
    run: () => zoom(1 / useView.getState().zoom)(),
  },
  { name: 'Nearer', group: 'View', keys: ['+'], on: 'sheet', run: zoom(Math.SQRT2) },
  { name: 'Further away', group: 'View', keys: ['-'], on: 'sheet', run: zoom(Math.SQRT1_2) },
  { name: 'Turn the view to the right', group: 'View', keys: ['E'], on: 'sheet', run: () => turnView(15) },
  { name: 'Turn the view to the left', group: 'View', keys: ['Q'], on: 'sheet', run: () => turnView(-15) },
  {
    name: 'Mirror the view',
    group: 'View',
    keys: ['M'],
    on: 'sheet',
    run: mirrorView,
  },
  {
    name: 'Turn to the part’s own up',
    group: 'View',
    keys: ['W'],
    on: 'sheet',
    run: ({ doc }) => turnToPart(doc),
  },
  {
    name: 'View upright again',
    group: 'View',
    keys: ['U'],
    on: 'sheet',
    run: upright,
  },
  { name: 'Columns on the other side', group: 'View', run: swapSides },
  ...ROOMS_TO_CHOOSE.map(({ room, name }): Command => ({ name, group: 'View', run: () => lightRoom(room) })),
  ...GUIDES.map(({ key, name, fromZoom }): Command => ({
    name: `Guide: ${name}${fromZoom ? `, from ${fromZoom * 100} %` : ''}`,
    group: 'View',
    run: () => toggleGuide(key),
  })),

  {
    name: 'Undo',
    group: 'Livery',
    keys: ['Ctrl Z'],
    can: ({ doc }) => doc.use.getState().canUndo,
    run: ({ doc }) => doc.undo(),
  },
  {
    name: 'Redo',
    group: 'Livery',
    keys: ['Ctrl Shift Z', 'Ctrl Y'],
    can: ({ doc }) => doc.use.getState().canRedo,
    run: ({ doc }) => doc.redo(),
  },
  { name: 'Find', group: 'Livery', keys: ['Ctrl K'], always: true, run: ({ open }) => open('find') },
  { name: 'Keys', group: 'Livery', keys: ['F1'], always: true, run: ({ open }) => open('keys') },
  {
    name: 'Versions: keep, compare, return',
    group: 'Livery',
    keys: ['F4'],
    always: true,
    run: ({ open }) => open('versions'),
  },
  column('scheme', 'the scheme'),
  column('particulars', 'the particulars'),
  column('notes', 'the notes'),
];

export const COMMANDS: readonly Command[] = COMMON;

/** What a key means where it is pressed. */
export const commandFor = (key: string, where: 'sheet' | 'shelf' | 'anywhere'): Command | undefined =>
  COMMANDS.find(
    ({ keys, on }) => keys?.includes(key) && (where === 'anywhere' ? on === undefined : on === where || on === 'both'),
  );
