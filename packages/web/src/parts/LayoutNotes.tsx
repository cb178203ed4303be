import { Button } from '@mui/material';
import type { LayoutKind, LayoutNote } from '@wet-lacquer/core/surface/layout.ts';
import { PlainList } from './layout.tsx';
import { Quiet } from './text.tsx';
import { INK } from '../theme.ts';

/** So many of one kind are one line that opens. */
const MOST = 2;

const TITLES: Record<LayoutKind, (n: number) => string> = {
  overlap: (n) => `${n} groups of islands lie on one another`,
  mirrored: (n) => `Islands are laid out mirrored on ${n} sheets`,
  outside: (n) => `Islands reach past the edge on ${n} sheets`,
  smeared: (n) => `Triangles have no area on ${n} sheets`,
  coarse: (n) => `${n} parts have fewer texels than the others`,
  bare: (n) => `${n} sheets are mostly empty`,
};

/** What there is to know of a layout: many of one kind are one line, with a list behind it. */
export function LayoutNotes({
  notes,
  onShow,
}: {
  notes: readonly LayoutNote[];
  onShow?(islands: readonly number[]): void;
}) {
  const kinds = [...new Set(notes.map(({ kind }) => kind))];
  return (
    <PlainList gap={8}>
      {kinds.map((kind) => {
        const own = notes.filter((note) => note.kind === kind);
        const lines = own.map((note, i) => <Line key={i} note={note} means={own.length <= MOST} onShow={onShow} />);
        if (own.length <= MOST) return lines;
        return (
          <li key={kind} style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
            <details>
              <summary style={{ cursor: 'pointer' }}>
                {TITLES[kind](own.length)}. <Quiet>{own[0].means}</Quiet>
              </summary>
              <ul style={{ listStyle: 'none', margin: '6px 0 0', padding: 0, display: 'grid', gap: 6 }}>{lines}</ul>
            </details>
          </li>
        );
      })}
    </PlainList>
  );
}

function Line({
  note,
  means,
  onShow,
}: {
  note: LayoutNote;
  means: boolean;
  onShow?(islands: readonly number[]): void;
}) {
  return (
    <li style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
      {note.text} {means && <Quiet>{note.means}</Quiet>}{' '}
      {onShow && note.islands.length > 0 && (
        <Button size="small" onClick={() => onShow(note.islands)}>
          Show me
        </Button>
      )}
    </li>
  );
}
