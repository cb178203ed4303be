import { Button } from '@mui/material';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { Quiet } from '../../parts/text.tsx';
import { Stack } from '../../parts/layout.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';

interface Props {
  spec: DeliverySpec;
  readOnly: boolean;
  onChange(change: Partial<DeliverySpec>): void;
}

/** Files that go along as they came, and files that go out under other names: pairs of names, each in a line. */
export function AlongFields({ spec, readOnly, onChange }: Props) {
  const { companions = [], pairs = [] } = spec;
  return (
    <>
      <Pairs
        title="Go along as they came"
        note="Files that the template keeps beside its sheets, and where they go."
        from="file"
        to="goes to"
        rows={companions.map(({ file, name }) => [file, name])}
        readOnly={readOnly}
        add="Add a companion"
        onChange={(rows) =>
          onChange({ companions: rows.length > 0 ? rows.map(([file, name]) => ({ file, name })) : undefined })
        }
      />
      <Pairs
        title="Go out under other names"
        note="A file that goes out as another: its size and alpha are compared with what the game has there."
        from="file"
        to="goes out as"
        rows={pairs.map(({ file, as }) => [file, as])}
        readOnly={readOnly}
        add="Add a pair"
        onChange={(rows) => onChange({ pairs: rows.length > 0 ? rows.map(([file, as]) => ({ file, as })) : undefined })}
      />
    </>
  );
}

function Pairs({
  title,
  note,
  from,
  to,
  rows,
  readOnly,
  add,
  onChange,
}: {
  title: string;
  note: string;
  from: string;
  to: string;
  rows: [string, string][];
  readOnly: boolean;
  add: string;
  onChange(rows: [string, string][]): void;
}) {
  if (readOnly && rows.length === 0) return null;
  return (
    <section
      aria-label={title}
      style={{ border: `1px solid ${INK.line}`, borderRadius: 2, padding: 10, display: 'grid', gap: 6 }}
    >
      <strong>{title}</strong>
      <Quiet as="p" small>
        {note}
      </Quiet>
      {rows.map(([a, b], i) => (
        <Stack key={i} columns="1fr 1fr auto" gap={6}>
          <TextEntry label={from} value={a} mono required onCommit={(value) => onChange(rows.with(i, [value, b]))} />
          <TextEntry label={to} value={b} mono required onCommit={(value) => onChange(rows.with(i, [a, value]))} />
          {!readOnly && (
            <Button size="small" aria-label={`Remove ${a}`} onClick={() => onChange(rows.toSpliced(i, 1))}>
              Remove
            </Button>
          )}
        </Stack>
      ))}
      {!readOnly && (
        <div>
          <Button size="small" onClick={() => onChange([...rows, ['name.dds', 'other.dds']])}>
            {add}
          </Button>
        </div>
      )}
    </section>
  );
}
