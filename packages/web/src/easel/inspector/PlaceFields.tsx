import { Button, Checkbox, FormControlLabel } from '@mui/material';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { Pair } from './Section.tsx';

export interface FieldsProps<L extends Layer> {
  layer: L;
  disabled: boolean;
  set(values: Record<string, unknown>, label: string): void;
}

type PlacedLayer = Extract<Layer, { x: number }>;

/** Where a layer lies and how large it is, in texels and degrees. */
export function PlaceFields({ layer, disabled, set, sheet }: FieldsProps<PlacedLayer> & { sheet: TemplateSheet }) {
  const number = (key: string, label: string, value: number, more: Partial<Parameters<typeof NumberField>[0]> = {}) => (
    <NumberField
      key={key}
      label={label}
      value={value}
      unit="px"
      disabled={disabled}
      onCommit={(next) => set({ [key]: next }, `Set ${label} of ${layer.name}`)}
      {...more}
    />
  );
  const turn = (key: 'turn' | 'angle', value: number) => number(key, key, value, { unit: '°', min: -3600, max: 3600 });
  const axis = sheet.axis;
  const centre = axis?.kind === 'horizontal' ? { y: axis.at } : axis ? { x: axis.at } : null;
  return (
    <>
      <Pair>
        {number('x', 'x', layer.x)}
        {number('y', 'y', layer.y)}
      </Pair>
      {layer.kind === 'decal' && (
        <>
          <Pair>
            <NumberField
              label="width"
              value={layer.width}
              unit="px"
              min={0.25}
              max={32768}
              disabled={disabled}
              onCommit={(width) =>
                set(
                  { width, ...(layer.keepRatio ? { height: Math.max(0.25, width / layer.ratio) } : {}) },
                  `Set width of ${layer.name}`,
                )
              }
            />
            <NumberField
              label="height"
              value={layer.height}
              unit="px"
              min={0.25}
              max={32768}
              disabled={disabled}
              onCommit={(height) =>
                set(
                  { height, ...(layer.keepRatio ? { width: Math.max(0.25, height * layer.ratio) } : {}) },
                  `Set height of ${layer.name}`,
                )
              }
            />
          </Pair>
          {turn('turn', layer.turn)}
          <Tick
            label="Keep the ratio of width and height"
            checked={layer.keepRatio}
            disabled={disabled}
            onChange={(keepRatio) =>
              set(
                keepRatio ? { keepRatio, height: Math.max(0.25, layer.width / layer.ratio) } : { keepRatio },
                'Keep the ratio',
              )
            }
          />
          <Tick
            label="Mirrored"
            checked={layer.mirrored}
            disabled={disabled}
            onChange={(mirrored) => set({ mirrored }, `Mirror ${layer.name}`)}
          />
        </>
      )}
      {layer.kind === 'lettering' && (
        <Pair>
          {number('size', 'size', layer.size, { min: 0.25, max: 32768 })}
          {turn('turn', layer.turn)}
        </Pair>
      )}
      {layer.kind === 'chequer' && (
        <>
          <Pair>
            {number('cell', 'cell', layer.cell, { min: 1, max: 8192 })}
            {turn('angle', layer.angle)}
          </Pair>
          <Pair>
            {number('columns', 'across', layer.columns, { unit: '', min: 1, max: 400, digits: 0 })}
            {number('rows', 'down', layer.rows, { unit: '', min: 1, max: 400, digits: 0 })}
          </Pair>
        </>
      )}
      {layer.kind === 'fade' && (
        <Pair>
          {number('length', layer.shape === 'radial' ? 'radius' : 'length', layer.length, { min: 0.25, max: 32768 })}
          {layer.shape === 'linear' ? turn('angle', layer.angle) : <span />}
        </Pair>
      )}
      {(layer.kind === 'stripe' || layer.kind === 'stripe-set') && (
        <>
          <Pair>
            {number('width', 'width', layer.width, { min: 0.25, max: 32768 })}
            {turn('angle', layer.angle)}
          </Pair>
          <Pair>
            {number('softness', 'softness', layer.softness, { min: 0, max: 4096 })}
            {layer.kind === 'stripe-set' ? number('gap', 'gap', layer.gap, { min: 0, max: 32768 }) : <span />}
          </Pair>
          {layer.kind === 'stripe-set' &&
            number('count', 'stripes', layer.count, { unit: '', min: 1, max: 400, digits: 0 })}
        </>
      )}
      {centre && (
        <Button size="small" disabled={disabled} onClick={() => set(centre, `Centre ${layer.name} on the axis`)}>
          Centre on the axis
        </Button>
      )}
    </>
  );
}

export function Tick({
  label,
  checked,
  disabled,
  onChange,
}: {
  label: string;
  checked: boolean;
  disabled?: boolean;
  onChange(checked: boolean): void;
}) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={checked}
          disabled={disabled}
          onChange={(event) => onChange(event.target.checked)}
          sx={{ py: 0.25 }}
        />
      }
      label={label}
      sx={{ mr: 0 }}
    />
  );
}
