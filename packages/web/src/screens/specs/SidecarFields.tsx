import { Button } from '@mui/material';
import { SpecSidecar } from '@wet-lacquer/core/livery/spec.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Row } from '../../parts/layout.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';

interface Props {
  sidecar: SpecSidecar;
  called: string;
  readOnly: boolean;
  onChange(change: Partial<SpecSidecar>): void;
  onRemove(): void;
}

/** A text that goes along with the textures. */
export function SidecarFields({ sidecar, called, readOnly, onChange, onRemove }: Props) {
  return (
    <section aria-label={called} style={BOX}>
      <Row>
        <strong style={{ flex: 1 }}>Sidecar {sidecar.name}</strong>
        {!readOnly && (
          <Button size="small" onClick={onRemove}>
            Remove
          </Button>
        )}
      </Row>
      <TextEntry label="name of it" value={sidecar.name} mono required onCommit={(name) => onChange({ name })} />
      <Choice
        label="language"
        value={sidecar.language}
        options={SpecSidecar.shape.language.options.map((value) => ({ value, label: value }))}
        disabled={readOnly}
        onChange={(language) => onChange({ language })}
      />
      <Tick
        label="Only where plates go along"
        checked={sidecar.when === 'plates'}
        disabled={readOnly}
        onChange={(on) => onChange({ when: on ? 'plates' : undefined })}
      />
      <Choice
        label="made"
        value={sidecar.making.kind === 'plates' ? 'plates' : 'text'}
        options={[
          { value: 'text', label: 'from a text' },
          { value: 'plates', label: 'as glTF of the plates' },
        ]}
        disabled={readOnly || (sidecar.making.kind !== 'template' && sidecar.making.kind !== 'plates')}
        onChange={(as) =>
          onChange(
            as === 'plates'
              ? { language: 'json', making: { kind: 'plates' } }
              : { making: { kind: 'template', text: '{ "name": {{particulars.name}} }\n' } },
          )
        }
      />
      <Making making={sidecar.making} onChange={(making) => onChange({ making })} />
    </section>
  );
}

interface MakingProps {
  making: SpecSidecar['making'];
  onChange(making: SpecSidecar['making']): void;
}

/** How a sidecar's text comes about. */
function Making({ making, onChange }: MakingProps) {
  switch (making.kind) {
    case 'template':
      return (
        <TextEntry
          label="text"
          value={making.text}
          mono
          rows={6}
          maxLength={100_000}
          onCommit={(text) => onChange({ ...making, text })}
        />
      );
    case 'plates':
      return <p style={NOTE}>The plates’ triangles, places and textures, in the model’s own axes.</p>;
    case 'section':
      return (
        <>
          <p style={NOTE}>A numbered section in a list that is there; {'{n}'} is its number.</p>
          <TextEntry
            label="begins"
            value={making.begins}
            mono
            required
            onCommit={(begins) => onChange({ ...making, begins })}
          />
          <TextEntry
            label="text"
            value={making.text}
            mono
            rows={4}
            maxLength={20_000}
            onCommit={(text) => onChange({ ...making, text })}
          />
          <TextEntry
            label="ends"
            value={making.ends}
            mono
            required
            onCommit={(ends) => onChange({ ...making, ends })}
          />
          <TextEntry
            label="one’s own holds"
            value={making.own}
            mono
            required
            onCommit={(own) => onChange({ ...making, own })}
          />
        </>
      );
    case 'values':
      return (
        <>
          <p style={NOTE}>Values in the game’s own file, by path.</p>
          {making.set.map((one, i) => (
            <div key={i} style={ROW}>
              <TextEntry
                label="path"
                value={one.path}
                mono
                required
                onCommit={(path) => onChange({ ...making, set: making.set.with(i, { ...one, path }) })}
              />
              <TextEntry
                label="value"
                value={one.value}
                mono
                onCommit={(value) => onChange({ ...making, set: making.set.with(i, { ...one, value }) })}
              />
            </div>
          ))}
        </>
      );
    case 'words':
      return (
        <>
          <p style={NOTE}>Whole words in the game’s own file.</p>
          {making.replace.map((one, i) => (
            <div key={i} style={ROW}>
              <TextEntry
                label="word"
                value={one.word}
                mono
                required
                onCommit={(word) => onChange({ ...making, replace: making.replace.with(i, { ...one, word }) })}
              />
              <TextEntry
                label="becomes"
                value={one.by}
                mono
                onCommit={(by) => onChange({ ...making, replace: making.replace.with(i, { ...one, by }) })}
              />
            </div>
          ))}
        </>
      );
  }
}

const ROW = { display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(130px, 1fr))', gap: 6 } as const;
const BOX = { border: `1px solid ${INK.line}`, borderRadius: 2, padding: 10, display: 'grid', gap: 6 } as const;
const NOTE = { margin: 0, color: INK.quiet } as const;
