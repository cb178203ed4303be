import { Button } from '@mui/material';
import type { NumberSetting, PlaceRow } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer, type LayerOf } from '@wet-lacquer/core/livery/layer.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { partAxis } from '@wet-lacquer/core/surface/partAxis.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { spotUnder } from '../buildup/makers.ts';
import { placeHere } from '../buildup/placeHere.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { announce } from '../session.ts';
import { Pair } from '../../parts/Section.tsx';
import { INK } from '../../theme.ts';

export interface FieldsProps<L extends Layer> {
  layer: L;
  disabled: boolean;
  set(values: Record<string, unknown>, label: string): void;
}

/** Where a layer lies and how large it is, in texels and degrees; on the model in metres. */
export function PlaceFields({ layer, disabled, set, sheet }: FieldsProps<Layer> & { sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const metres = layer.on?.scale ?? null;
  // Its middle is where it lies on the model.
  const placed = layer.on !== undefined && 'at' in layer.on && 'x' in layer && layer.x === 0 && layer.y === 0;
  const number = (key: string, label: string, value: number, more: Partial<Parameters<typeof NumberField>[0]> = {}) => (
    <NumberField
      key={key}
      label={label}
      disabled={disabled}
      {...inMetres(metres, {
        unit: 'px',
        ...more,
        value,
        commit: (next) => set({ [key]: next }, `Set ${label} of ${layer.name}`),
      })}
    />
  );
  const axis = layer.on ? null : sheet.axis;
  const centre = !('x' in layer) ? null : axis?.kind === 'horizontal' ? { y: axis.at } : axis ? { x: axis.at } : null;
  const values = layer as unknown as Record<string, number>;
  const setting = ({ key, label, ...more }: NumberSetting) => number(key, label, values[key], more);
  return (
    <>
      {'x' in layer && !placed && (
        <Pair>
          {number('x', 'x', layer.x)}
          {number('y', 'y', layer.y)}
        </Pair>
      )}
      {dataOf(layer)
        .place(layer)
        .map((row, i) => {
          if (typeof row === 'object' && 'is' in row && row.is === 'slide')
            return (
              <Slide
                key={row.key}
                {...{ label: row.label, min: row.min, max: row.max, unit: row.unit, disabled, value: values[row.key] }}
                onShow={(value) =>
                  doc.show(value === null ? null : { do: 'set-layer', layer: layer.id, set: { [row.key]: value } })
                }
                onCommit={(value) => set({ [row.key]: value }, `Set ${row.label} of ${layer.name}`)}
              />
            );
          if (typeof row === 'object' && 'is' in row)
            return (
              <Choice
                key={row.key}
                label={row.label}
                value={String(values[row.key])}
                disabled={disabled}
                options={row.options.map((value) => ({ value, label: value }))}
                onChange={(value) => set({ [row.key]: value }, `Set ${row.label} of ${layer.name}`)}
              />
            );
          if (typeof row !== 'string')
            return row.length > 1 ? <Pair key={i}>{row.map(setting)}</Pair> : row.map(setting);
          const Row = ROWS[row];
          return <Row key={row} layer={layer as never} sheet={sheet} disabled={disabled} set={set} />;
        })}
      {centre && (
        <Button size="small" disabled={disabled} onClick={() => set(centre, `Centre ${layer.name} on the axis`)}>
          Centre on the axis
        </Button>
      )}
    </>
  );
}

interface Length {
  value: number;
  unit?: string;
  min?: number;
  max?: number;
  digits?: number;
  commit(value: number): void;
}

/** A length of texels as metres, for a layer whose plane has so many of them to a unit; whatever is no length stays as it is. */
function inMetres(metres: number | null, { commit, ...field }: Length) {
  if (metres === null || field.unit !== 'px') return { ...field, onCommit: commit };
  const of = (value: number | undefined) => value && value * metres;
  return {
    ...{ value: field.value * metres, min: of(field.min), max: of(field.max) },
    ...{ unit: 'm', digits: 3, step: 0.01 },
    onCommit: (next: number) => commit(next / metres),
  };
}

/** Width and height, which may keep to a ratio, and which way round. */
function RatioFields({ layer, disabled, set }: FieldsProps<LayerOf<'decal'>>) {
  const side = (value: number, commit: (next: number) => void) =>
    inMetres(layer.on?.scale ?? null, { value, unit: 'px', min: 0.25, max: 32768, commit });
  return (
    <>
      <Pair>
        <NumberField
          label="width"
          disabled={disabled}
          {...side(layer.width, (width) =>
            set(
              { width, ...(layer.keepRatio ? { height: Math.max(0.25, width / layer.ratio) } : {}) },
              `Set width of ${layer.name}`,
            ),
          )}
        />
        <NumberField
          label="height"
          disabled={disabled}
          {...side(layer.height, (height) =>
            set(
              { height, ...(layer.keepRatio ? { width: Math.max(0.25, height * layer.ratio) } : {}) },
              `Set height of ${layer.name}`,
            ),
          )}
        />
      </Pair>
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
  );
}

/** Lays a fade along a part, from its beginning to its end. */
function AlongPart({
  layer,
  sheet,
  disabled,
  set,
}: FieldsProps<LayerOf<'fade' | 'halftone'>> & { sheet: TemplateSheet }) {
  const template = useTemplate();
  const parts = template.parts.filter((part) => part.sheet === sheet.key);
  if (parts.length === 0) return null;
  const lay = (key: string) => {
    const axis = partAxis(template, sheet.key, key);
    const name = parts.find((part) => part.key === key)!.name;
    if (!axis) return announce(`${name} has no length`);
    const round = (value: number) => Math.round(value * 10) / 10;
    const { x, y, angle, length } = axis;
    set(
      { x: round(x), y: round(y), angle: round(angle), length: round(Math.max(1, length)) },
      `Lay ${layer.name} along ${name}`,
    );
  };
  return (
    <Choice
      label="along"
      value="own"
      disabled={disabled}
      options={[
        { value: 'own', label: 'its own line' },
        ...parts.map(({ key, name }) => ({ value: `part ${key}`, label: name })),
      ]}
      onChange={(value) => value !== 'own' && lay(value.slice(5))}
    />
  );
}

/** A shape is filled, or a line whose width runs from one end to the other. */
function ShapeFields({ layer, disabled, set }: FieldsProps<Extract<Layer, { kind: 'shape' }>>) {
  const { line } = layer;
  const number = (key: 'width' | 'endWidth' | 'count' | 'gap', label: string, min: number, max: number) =>
    line && (
      <NumberField
        label={label}
        value={line[key]}
        unit={key === 'count' ? '' : 'px'}
        digits={key === 'count' ? 0 : 1}
        min={min}
        max={max}
        disabled={disabled}
        onCommit={(value) =>
          set({ line: { ...line, [key]: key === 'count' ? Math.round(value) : value } }, `Line of ${layer.name}`)
        }
      />
    );
  const smooth = layer.paths.every(({ knots }) => knots.every((knot) => knot.smooth));
  const closed = layer.paths.every((path) => path.closed);
  const all = (change: object, label: string) =>
    set({ paths: layer.paths.map((path) => ({ ...path, ...change })) }, label);
  return (
    <>
      <Tick
        label="A line, not filled"
        checked={line !== null}
        disabled={disabled}
        onChange={(on) =>
          set({ line: on ? { width: 24, endWidth: 24, count: 1, gap: 12 } : null }, `Line of ${layer.name}`)
        }
      />
      {line && (
        <>
          <Pair>
            {number('width', 'begins', 0, 8192)}
            {number('endWidth', 'ends', 0, 8192)}
          </Pair>
          <Pair>
            {number('count', 'lines', 1, 40)}
            {number('gap', 'gap', 0, 8192)}
          </Pair>
        </>
      )}
      <Tick
        label="Curved through its points"
        checked={smooth}
        disabled={disabled}
        onChange={(on) =>
          set(
            {
              paths: layer.paths.map((path) => ({
                ...path,
                knots: path.knots.map((knot) => ({ ...knot, smooth: on })),
              })),
            },
            `Curve ${layer.name}`,
          )
        }
      />
      <Tick
        label="Closed"
        checked={closed}
        disabled={disabled}
        onChange={(on) => all({ closed: on }, `Close ${layer.name}`)}
      />
      <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
        Drag a point on the sheet; press on the outline between two for another, or Alt on one to take it out.
      </p>
    </>
  );
}

/** Puts where soot comes from to what is in the middle of the view. */
function SpotOfView({ layer, sheet, disabled, set }: FieldsProps<LayerOf<'wear'>> & { sheet: TemplateSheet }) {
  const template = useTemplate();
  const livery = useLivery();
  return (
    <Button
      size="small"
      disabled={disabled}
      onClick={() => {
        const spot = spotUnder(template, placeHere(template, livery, sheet.key));
        if (!spot) return announce('Nothing of the model is in the middle of the view.');
        const [ahead, height, starboard] = spot.map((metres) => Number(metres.toFixed(3)));
        set({ ahead, height, starboard }, `Begin ${layer.name} elsewhere`);
      }}
    >
      Begin in the middle of the view
    </Button>
  );
}

/** Rows that are more than numbers. */
const ROWS: Record<
  Extract<PlaceRow, string>,
  (props: FieldsProps<never> & { sheet: TemplateSheet }) => React.ReactNode
> = {
  ratio: RatioFields,
  along: AlongPart,
  outline: ShapeFields,
  spot: SpotOfView,
};
