import { Button } from '@mui/material';
import { useState } from 'react';
import {
  aligned,
  ALIGNMENTS,
  boundsOf,
  distributed,
  movedBy,
  partnerOf,
  type Alignment,
} from '@wet-lacquer/core/livery/arrange.ts';
import { capital } from '@wet-lacquer/core/capital.ts';
import { newLayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { placesOf, type Place } from '@wet-lacquer/core/surface/places.ts';
import { Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { commitAll } from '../actions.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import type { EaselDocument } from '../document.ts';
import { frameOf } from '../flat/placing.ts';
import { choose, announce, setTrouble, useSession, useSessionOf } from '../session.ts';
import { Tick } from '../../parts/Tick.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

const ROWS: readonly (readonly Alignment[])[] = [ALIGNMENTS.slice(0, 3), ALIGNMENTS.slice(3)];

/** Lines up and spreads several chosen layers, as one step. */
export function LineUp({ ids }: { ids: readonly string[] }) {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const { sheet, map } = useSessionOf('sheet', 'map');
  const layers = layersOf(livery, sheet, map).filter(
    (layer) => ids.includes(layer.id) && 'x' in layer && !layer.locked,
  );
  const move = async (moves: (boxes: ReturnType<typeof boundsOf>[]) => { dx: number; dy: number }[], label: string) => {
    try {
      const boxes = await Promise.all(
        layers.map(async (layer) => {
          const width = layer.kind === 'lettering' ? await flat.ask('letteringWidth', { layer: layer.id }) : null;
          const frame = frameOf(layer, width);
          const { x, y } = layer as Extract<Layer, { x: number }>;
          return frame ? boundsOf(frame) : { left: x, top: y, right: x, bottom: y };
        }),
      );
      const edits = moves(boxes).flatMap(({ dx, dy }, i): SingleEdit[] => {
        const layer = layers[i] as Extract<Layer, { x: number }>;
        if (Math.abs(dx) < 0.05 && Math.abs(dy) < 0.05) return [];
        const round = (v: number) => Math.round(v * 10) / 10;
        return [{ do: 'set-layer', layer: layer.id, set: { x: round(layer.x + dx), y: round(layer.y + dy) } }];
      });
      if (edits.length === 0) return announce('They are so already');
      doc.commit({ do: 'together', edits }, label);
      announce(`${label}: ${count(edits.length, 'layer')} moved`);
    } catch (error) {
      setTrouble(sentenceOf(error));
    }
  };
  if (layers.length < 2) return null;
  const button = (name: string, run: () => void, enough = true) => (
    <Button key={name} size="small" disabled={!enough} onClick={run} sx={{ flex: 1, minWidth: 0, px: 0.5 }}>
      {name}
    </Button>
  );
  return (
    <Section title={`Line up ${count(layers.length, 'layer')}`}>
      {ROWS.map((row) => (
        <Row key={row[0]} align="stretch" gap={6}>
          {row.map((how) => button(capital(how), () => void move((b) => aligned(b, how), `Line up ${how}`)))}
        </Row>
      ))}
      <Row align="stretch" gap={6}>
        {button('Even gaps across', () => void move((b) => distributed(b, 'x'), 'Even gaps across'), layers.length > 2)}
        {button('Even gaps down', () => void move((b) => distributed(b, 'y'), 'Even gaps down'), layers.length > 2)}
      </Row>
    </Section>
  );
}

/** Puts copies of a layer directly above it, as one step. */
function putCopies(doc: EaselDocument, layer: Layer, copies: readonly Layer[], label: string): void {
  const { sheet, map } = useSession.getState();
  const at = layersOf(doc.use.getState().livery, sheet, map).findIndex(({ id }) => id === layer.id);
  const edits = copies.map((copy, n): SingleEdit => ({ do: 'add-layer', sheet, map, layer: copy, index: at + 1 + n }));
  commitAll(doc, edits, label);
  choose(copies[copies.length - 1].id);
  announce(label);
}

const asCopy = (layer: Layer, name: string): Layer => ({
  ...layer,
  id: newLayerId(),
  name: cutTo(name, 80),
  locked: false,
});

/** The places of a layer with one of them exchanged for another. */
const movedTo = (keys: readonly string[], home: Place, place: Place): string[] =>
  home.keys.some((key) => keys.includes(key))
    ? [...keys.filter((key) => !home.keys.includes(key)), ...place.keys.filter((key) => !keys.includes(key))]
    : [...keys];

/** Exact copies at an offset, in rows and columns. */
export function Repeat({ layer }: { layer: Layer }) {
  const { doc } = useEasel();
  const [across, setAcross] = useState({ count: 2, by: 100 });
  const [down, setDown] = useState({ count: 1, by: 100 });
  if (!('x' in layer || 'left' in layer)) return null;
  const made = across.count * down.count - 1;
  const repeat = () => {
    const copies: Layer[] = [];
    for (let row = 0; row < down.count; row++)
      for (let column = row === 0 ? 1 : 0; column < across.count; column++)
        copies.push(asCopy(movedBy(layer, column * across.by, row * down.by), `${layer.name} ${copies.length + 2}`));
    putCopies(doc, layer, copies, `Repeat ${layer.name}, ${count(copies.length, 'copy', 'copies')}`);
  };
  const field = (
    label: string,
    value: number,
    unit: string,
    set: (value: number) => void,
    max: number,
    min: number,
  ) => <NumberField label={label} value={value} unit={unit} min={min} max={max} digits={unit ? 1 : 0} onCommit={set} />;
  return (
    <Section title="Repeat">
      <Pair>
        {field('in a row', across.count, '', (n) => setAcross({ ...across, count: Math.round(n) }), 50, 1)}
        {field('apart', across.by, 'px', (by) => setAcross({ ...across, by }), 16384, -16384)}
      </Pair>
      <Pair>
        {field('rows', down.count, '', (n) => setDown({ ...down, count: Math.round(n) }), 50, 1)}
        {field('rows apart', down.by, 'px', (by) => setDown({ ...down, by }), 16384, -16384)}
      </Pair>
      <Button size="small" disabled={made < 1 || made > 400} onClick={repeat}>
        {made > 400 ? 'More than 400 copies' : `Put on ${count(Math.max(0, made), 'copy', 'copies')}`}
      </Button>
    </Section>
  );
}

/** A partner on the other side: across the axis, or in the same place on another part. */
export function Partner({ layer, sheet }: { layer: Layer; sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const template = useTemplate();
  const parts = placesOf(template, sheet.key);
  const place = 'x' in layer ? layer : null;
  const home =
    place && parts.find((p) => place.x >= p.left && place.x <= p.right && place.y >= p.top && place.y <= p.bottom);
  const others = home ? parts.filter((one) => one !== home) : [];
  const options = [
    ...(sheet.axis ? [{ value: 'axis', label: 'across the axis' }] : []),
    ...others.map(({ keys, name }) => ({ value: keys[0], label: name })),
  ];
  const [where, setWhere] = useState<string | null>(null);
  const [mirrored, setMirrored] = useState(true);
  const [readable, setReadable] = useState(true);
  if (!place || options.length === 0) return null;
  // A part of the same size is most likely the other side.
  const size = (p: (typeof parts)[number]) => [p.right - p.left, p.bottom - p.top];
  const like = home && others.find((p) => size(p).every((v, i) => Math.abs(v - size(home)[i]) <= 2));
  const chosen = options.some(({ value }) => value === where) ? where! : (like?.keys[0] ?? options[0].value);
  const put = () => {
    const part = parts.find(({ keys }) => keys[0] === chosen);
    let partner: Layer | null = place;
    if (part && home) {
      const to = movedBy(place, part.left - home.left, part.top - home.top);
      partner = mirrored ? partnerOf(to, { across: 'x', at: (part.left + part.right) / 2 }, readable) : to;
      if (partner) partner = { ...partner, parts: movedTo(layer.parts, home, part) };
    } else if (sheet.axis)
      partner = partnerOf(place, { across: sheet.axis.kind === 'vertical' ? 'x' : 'y', at: sheet.axis.at }, readable);
    if (partner) putCopies(doc, layer, [asCopy(partner, `${layer.name} partner`)], `Partner of ${layer.name}`);
  };
  const turns = chosen === 'axis' || mirrored;
  return (
    <Section title="Partner">
      <Choice label="on" value={chosen} options={options} onChange={setWhere} />
      {chosen !== 'axis' && <Tick label="Mirrored, as on the other side" checked={mirrored} onChange={setMirrored} />}
      {turns && (layer.kind === 'lettering' || layer.kind === 'decal') && (
        <Tick label="Still reads the right way" checked={readable} onChange={setReadable} />
      )}
      <Button size="small" onClick={put}>
        Put the partner on
      </Button>
      {layer.parts.length > 0 && chosen === 'axis' && <Quiet as="p">It keeps to the same parts.</Quiet>}
    </Section>
  );
}
