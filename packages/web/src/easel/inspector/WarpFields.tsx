import { Button } from '@mui/material';
import { useState } from 'react';
import type { LayerOf } from '@wet-lacquer/core/livery/layer.ts';
import { NET, straightWarp, type Warp } from '@wet-lacquer/core/livery/warp.ts';
import { Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import type { FieldsProps } from './PlaceFields.tsx';
import { Pair, Section } from '../../parts/Section.tsx';

const CORNERS = ['Top left', 'Top right', 'Bottom right', 'Bottom left'];

export const pointName = (warp: Warp, k: number): string =>
  warp.kind === 'perspective' ? CORNERS[k] : `Row ${Math.floor(k / NET) + 1}, ${(k % NET) + 1}`;

const round = (value: number) => Math.round(value * 1e4) / 1e4;

/** The warp with one point elsewhere. */
export const withPoint = (warp: Warp, k: number, to: Partial<Warp['points'][number]>): Warp => ({
  ...warp,
  points: warp.points.map((point, i) => (i === k ? { x: round(to.x ?? point.x), y: round(to.y ?? point.y) } : point)),
});

/** A mark in perspective or bent: which, and every point of it in numbers; on the sheet they are dragged. */
export function WarpFields({ layer, disabled, set }: FieldsProps<LayerOf<'decal'>>) {
  const [which, setWhich] = useState(0);
  const { warp } = layer;
  const kind = warp?.kind ?? 'none';
  const k = warp ? Math.min(which, warp.points.length - 1) : 0;
  const share = (axis: 'x' | 'y', label: string) => (
    <NumberField
      label={label}
      unit="%"
      digits={2}
      value={warp!.points[k][axis] * 100}
      min={-800}
      max={900}
      disabled={disabled}
      onCommit={(value) => set({ warp: withPoint(warp!, k, { [axis]: value / 100 }) }, `Warp ${layer.name}`)}
    />
  );
  return (
    <Section title="Warp">
      <Choice<Warp['kind'] | 'none'>
        label="lies"
        value={kind}
        disabled={disabled}
        options={[
          { value: 'none', label: 'Flat' },
          { value: 'perspective', label: 'In perspective' },
          { value: 'bent', label: 'Bent over a net' },
        ]}
        onChange={(next) =>
          set(
            { warp: next === 'none' ? null : straightWarp(next) },
            `${next === 'none' ? 'Straighten' : 'Warp'} ${layer.name}`,
          )
        }
      />
      {warp && (
        <>
          <Choice
            label="point"
            value={String(k)}
            disabled={disabled}
            options={warp.points.map((_, i) => ({ value: String(i), label: pointName(warp, i) }))}
            onChange={(value) => setWhich(Number(value))}
          />
          <Pair>
            {share('x', 'along')}
            {share('y', 'down')}
          </Pair>
          <Button
            size="small"
            disabled={disabled}
            onClick={() => set({ warp: straightWarp(warp.kind) }, `Straighten ${layer.name}`)}
          >
            Back to the box
          </Button>
          <Quiet as="p">Drag its points on the sheet.</Quiet>
        </>
      )}
    </Section>
  );
}
