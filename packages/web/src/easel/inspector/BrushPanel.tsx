import { Button } from '@mui/material';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { BRUSHES, type Brush } from '@wet-lacquer/core/paint/brush.ts';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { newColourId } from '@wet-lacquer/core/livery/ids.ts';
import { colourOf } from '@wet-lacquer/core/livery/livery.ts';
import { Row, Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { paintIn, paintWith, setBrush, type SizeIn, type Symmetry, useHand } from '../hand.ts';
import { useSession } from '../session.ts';
import { PaintPicker } from './PaintPicker.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { CloneFields } from './CloneFields.tsx';
import { Pair, Section } from '../../parts/Section.tsx';

const SIZES_IN: readonly { value: SizeIn; label: string; unit: string }[] = [
  { value: 'texels', label: 'texels of the sheet', unit: 'px' },
  { value: 'mm', label: 'millimetres of the model', unit: 'mm' },
  { value: 'screen', label: 'pixels of the screen', unit: 'px' },
];

/** The brush in hand: which, how large, with what. */
export function BrushPanel() {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const sheetKey = useSession((session) => session.sheet);
  const { hand, brush, sizeIn, own, paint, lately, symmetry, copies, wrap } = useHand();
  const sheet = sheetNamed(template, sheetKey);
  const wears = paintIn(livery, paint);
  const all = [...BRUSHES, ...own];
  const slide = (key: NumericKey, label: string, min: number, max: number, unit = '%', step = 1) => (
    <Slide
      key={key}
      label={label}
      value={brush[key]}
      min={min}
      max={max}
      step={step}
      unit={unit}
      onCommit={(value) => setBrush({ [key]: value })}
    />
  );
  const keep = () => {
    const names = new Set(all.map(({ name }) => name));
    let name = `${brush.name} mine`.slice(0, 34);
    for (let n = 2; names.has(name); n++) name = `${brush.name.slice(0, 24)} mine ${n}`;
    const made = { ...brush, name };
    useHand.setState({ own: [...own, made], brush: made });
  };
  const intoScheme = () => {
    const hex = hexOfRgb(colourOf(livery, wears));
    const colour = { id: newColourId(), name: `Colour ${livery.scheme.length + 1}`, hex };
    doc.commit({ do: 'add-colour', colour, index: livery.scheme.length }, `Take ${hex} into the scheme`);
    useHand.setState({ paint: { scheme: colour.id } });
  };
  return (
    <Section title={hand === 'rub' ? 'Rub out with' : hand === 'clone' ? 'Clone with' : 'Paint with'}>
      <Choice
        label="brush"
        value={all.some(({ name }) => name === brush.name) ? brush.name : BRUSHES[0].name}
        options={all.map(({ name, tip }) => ({ value: name, label: name, note: tip }))}
        onChange={(name) => useHand.setState({ brush: all.find((one) => one.name === name)! })}
      />
      {hand === 'paint' && (
        <>
          <PaintPicker label="paint" paint={wears} onChange={(next) => useHand.setState({ paint: next })} />
          {lately.length > 0 && (
            <Row role="group" aria-label="Colours used lately" align="stretch" gap={4} wrap>
              {lately.map((hex) => (
                <button
                  key={hex}
                  type="button"
                  aria-label={`Paint with ${hex}`}
                  title={hex}
                  onClick={() => paintWith(livery, hex)}
                  style={{ width: 24, height: 24, padding: 3, border: `1px solid ${INK.edge}`, background: INK.panel }}
                >
                  <span style={{ display: 'block', width: '100%', height: '100%', background: hex }} />
                </button>
              ))}
            </Row>
          )}
          <Row align="stretch" gap={6}>
            {'hex' in wears && (
              <Button size="small" disabled={livery.scheme.length >= 64} onClick={intoScheme}>
                Take into the scheme
              </Button>
            )}
            {'EyeDropper' in window && (
              <Button
                size="small"
                onClick={() =>
                  void new window.EyeDropper!()
                    .open()
                    .then(({ sRGBHex }) => paintWith(livery, sRGBHex.toLowerCase()))
                    .catch(() => {})
                }
              >
                Pick from the screen
              </Button>
            )}
          </Row>
          <Quiet as="p" small>
            Alt and a press takes a colour from the art.
          </Quiet>
        </>
      )}
      {hand === 'clone' && <CloneFields sheet={sheet} />}
      {slide('size', 'size', 1, 1000, SIZES_IN.find(({ value }) => value === sizeIn)!.unit)}
      {!template.boards && (
        <Choice<SizeIn>
          label="counted in"
          value={sizeIn}
          options={SIZES_IN}
          onChange={(next) => useHand.setState({ sizeIn: next })}
        />
      )}
      {!brush.pixel && slide('hardness', 'hardness', 0, 100)}
      {slide('flow', 'flow', 1, 100)}
      {slide('opacity', 'opacity', 1, 100)}
      <details>
        <summary style={{ cursor: 'pointer', color: INK.quiet, minHeight: 24 }}>More of the brush</summary>
        <Stack gap={6} above={6}>
          <Choice
            label="tip"
            value={brush.tip}
            options={(['round', 'flat', 'chalk', 'bristle'] as const).map((tip) => ({ value: tip, label: tip }))}
            onChange={(tip) => setBrush({ tip })}
          />
          {slide('spacing', 'spacing', 2, 200)}
          {slide('angle', 'angle', -180, 180, '°')}
          {slide('jitter', 'jitter', 0, 100)}
          {slide('smoothing', 'smoothing', 0, 100)}
          {slide('pressureSize', 'pressure on size', 0, 100)}
          {slide('pressureFlow', 'pressure on flow', 0, 100)}
          {slide('curve', 'pressure curve', 0.2, 5, '', 0.1)}
          <Tick label="Whole texels only" checked={brush.pixel} onChange={(pixel) => setBrush({ pixel })} />
          <Pair>
            <Button size="small" onClick={keep}>
              Keep as mine
            </Button>
            <Button
              size="small"
              disabled={!own.some(({ name }) => name === brush.name)}
              onClick={() =>
                useHand.setState({ own: own.filter(({ name }) => name !== brush.name), brush: BRUSHES[0] })
              }
            >
              Throw away
            </Button>
          </Pair>
        </Stack>
      </details>
      <Choice<Symmetry>
        label="symmetry"
        value={symmetry === 'axis' && !sheet.axis ? 'none' : symmetry}
        options={[
          { value: 'none', label: 'none' },
          ...(sheet.axis ? [{ value: 'axis' as const, label: 'across the axis' }] : []),
          { value: 'radial', label: 'about the middle' },
        ]}
        onChange={(next) => useHand.setState({ symmetry: next })}
      />
      {symmetry === 'radial' && (
        <Slide
          label="copies"
          value={copies}
          min={2}
          max={36}
          digits={0}
          onCommit={(next) => useHand.setState({ copies: Math.round(next) })}
        />
      )}
      {sheet.cells && (
        <Tick label="Wrap within a cell" checked={wrap} onChange={(on) => useHand.setState({ wrap: on })} />
      )}
    </Section>
  );
}

type NumericKey = { [K in keyof Brush]: Brush[K] extends number ? K : never }[keyof Brush];

declare global {
  interface Window {
    /** WICG EyeDropper API, where the browser has it. */
    EyeDropper?: new () => { open(): Promise<{ sRGBHex: string }> };
  }
}
