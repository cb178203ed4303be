import { Button } from '@mui/material';
import { useState } from 'react';
import { Stack } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { Pair } from '../../parts/Section.tsx';

interface Props {
  names: readonly string[];
  /** In which order they stand: "from the top left". */
  order: string;
  /** As many as there were; a line that was left empty keeps its name. */
  onNames(names: string[]): void;
}

/** Many names in one pass: a line for each. */
export function NameAll({ names, order, onNames }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  if (names.length < 2) return null;
  if (typed === null)
    return (
      <Button size="small" onClick={() => setTyped(names.join('\n'))}>
        Name all {names.length} in one go
      </Button>
    );
  const lines = typed.split('\n').map((line) => line.trim().slice(0, 60));
  const next = names.map((name, i) => lines[i] || name);
  const others = next.filter((name, i) => name !== names[i]).length;
  return (
    <Stack gap={6}>
      <label style={{ display: 'grid', gap: 2, color: INK.quiet, fontSize: 12 }}>
        A name on each line, {order}
        <textarea
          autoFocus
          value={typed}
          rows={Math.min(16, names.length + 1)}
          onChange={(event) => setTyped(event.target.value)}
          style={{
            background: INK.raised,
            color: INK.text,
            border: `1px solid ${INK.edge}`,
            font: 'inherit',
            padding: 6,
          }}
        />
      </label>
      <Pair>
        <Button
          size="small"
          disabled={others === 0}
          onClick={() => {
            onNames(next);
            setTyped(null);
          }}
        >
          {others === 0 ? 'None is another yet' : `Take ${others} ${others === 1 ? 'name' : 'names'}`}
        </Button>
        <Button size="small" variant="text" onClick={() => setTyped(null)}>
          Leave them
        </Button>
      </Pair>
    </Stack>
  );
}
