import { Button } from '@mui/material';
import { withAlphaOf } from '@wet-lacquer/core/livery/boxes.ts';
import type { ParameterBox, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { Quiet } from '../../parts/text.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Pair, Section } from '../../parts/Section.tsx';
import type { Box } from './FlatLayout.tsx';
import { NameAll } from './NameAll.tsx';
import { useLooking } from './useLooking.ts';

/** Boxes of pixels that the game reads as settings. */
export function BoxFields({ sheet, onDraw }: { sheet: TemplateSheet; onDraw(done: (box: Box) => void): void }) {
  const { change } = useLooking();
  const boxes = sheet.boxes ?? [];
  /** As one reads them on the sheet. */
  const reading = boxes.map((_, i) => i).sort((a, b) => boxes[a].top - boxes[b].top || boxes[a].left - boxes[b].left);
  const put = (next: ParameterBox[]) => void change({ do: 'set-sheet', sheet: sheet.key, set: { boxes: next } });
  const set = (at: number, values: Partial<ParameterBox>) => put(boxes.with(at, { ...boxes[at], ...values }));
  const add = (box: Box) => {
    const key = freeKey('box', new Set(boxes.map((b) => b.key)));
    put([...boxes, { key, name: `Box ${boxes.length + 1}`, means: '', hex: '#808080ff', ...box }]);
  };
  return (
    <Section title="Parameter boxes">
      {boxes.length === 0 && (
        <Quiet as="p">Where a game reads colours from fixed pixels, they become named colours of the livery.</Quiet>
      )}
      {boxes.map((box, i) => (
        <fieldset
          key={box.key}
          style={{ border: `1px solid ${INK.line}`, margin: 0, padding: 6, display: 'grid', gap: 6 }}
        >
          <TextEntry label="name" value={box.name} required maxLength={60} onCommit={(name) => set(i, { name })} />
          <TextEntry label="means" value={box.means} onCommit={(means) => set(i, { means })} />
          <TextEntry
            label="unless set"
            value={box.hex}
            mono
            maxLength={9}
            onCommit={(hex) => set(i, { hex: withAlphaOf(hex, box.hex) })}
          />
          <Pair>
            {(['left', 'top', 'width', 'height'] as const).map((side) => (
              <NumberField
                key={side}
                label={side}
                value={box[side]}
                digits={0}
                min={side === 'left' || side === 'top' ? 0 : 1}
                max={16384}
                onCommit={(value) => set(i, { [side]: value })}
              />
            ))}
          </Pair>
          <Button size="small" onClick={() => put(boxes.filter((_, k) => k !== i))}>
            Take {box.name} out
          </Button>
        </fieldset>
      ))}
      <NameAll
        names={reading.map((i) => boxes[i].name)}
        order="from the top left of the sheet"
        onNames={(names) => put(boxes.map((box, i) => ({ ...box, name: names[reading.indexOf(i)] })))}
      />
      <Button size="small" onClick={() => onDraw(add)}>
        Draw a box
      </Button>
    </Section>
  );
}
