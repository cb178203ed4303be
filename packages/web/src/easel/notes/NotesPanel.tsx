import { Button } from '@mui/material';
import { useState } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import type { NotePlace } from '@wet-lacquer/sync/people.ts';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Mono, Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useTemplate } from '../context.ts';
import { useView } from '../flat/view.ts';
import { useSession } from '../session.ts';
import { Note, type Tried } from './Note.tsx';
import { pinAt, useNotes, useNoting } from './notes.ts';
import { Saying } from './Saying.tsx';

/** What is said of places of the livery: pinned, answered, ticked off. */
export function NotesPanel() {
  const { notes, people, error, act } = useNotes();
  const { place, withDone, chosen } = useNoting();
  const [problem, setProblem] = useState<string | null>(null);
  const tried: Tried = async (work) => {
    setProblem(null);
    try {
      await work();
      return true;
    } catch (failure) {
      setProblem(sentenceOf(failure));
      return false;
    }
  };
  const open = notes?.filter(({ done }) => !done) ?? [];
  const done = notes?.filter((one) => one.done) ?? [];
  const shown = [...open, ...(withDone ? done : done.filter(({ id }) => id === chosen))];
  return (
    <Stack gap={12}>
      {place ? <Write place={place} onSay={(text) => tried(() => act('POST', '', { text, place }))} /> : <Start />}
      {problem && <Notice level="error">{problem}</Notice>}
      {!notes && error !== undefined && <Notice level="error">{sentenceOf(error)}</Notice>}
      {notes?.length === 0 && !place && (
        <Quiet as="p">Nobody has said anything yet. A note is pinned to a place of a sheet or of the model.</Quiet>
      )}
      <PlainList gap={10}>
        {shown.map((note) => (
          <Note key={note.id} {...{ note, people, act, tried }} chosen={note.id === chosen} />
        ))}
      </PlainList>
      {done.length > 0 && (
        <Tick
          label={`Show what is ticked off (${done.length})`}
          checked={withDone}
          onChange={(to) => useNoting.setState({ withDone: to })}
        />
      )}
    </Stack>
  );
}

function Start() {
  const template = useTemplate();
  const sheet = useSession((s) => s.sheet);
  return (
    <Row>
      <Button
        size="small"
        variant="outlined"
        onClick={(event) => {
          // By keyboard there is no place to press on: it is the middle of what is seen.
          const { x, y } = useView.getState();
          const on = sheetNamed(template, sheet);
          if (event.detail > 0) useNoting.setState({ pinning: true, chosen: null });
          else pinAt(on, Math.min(on.width - 1, Math.max(0, x)), Math.min(on.height - 1, Math.max(0, y)), null);
        }}
      >
        Pin a note
      </Button>
    </Row>
  );
}

/** The note that is being written. */
function Write({ place, onSay }: { place: NotePlace; onSay(text: string): Promise<boolean> }) {
  const template = useTemplate();
  const text = useNoting((s) => s.text);
  const leave = () => useNoting.setState({ place: null, text: '' });
  return (
    <Saying
      called="New note"
      label={`note on ${sheetNamed(template, place.sheet).name}`}
      button="Pin it"
      rows={2}
      text={text}
      onText={(to) => useNoting.setState({ text: to })}
      onSay={async (said) => (await onSay(said)) && leave()}
      onLeave={leave}
    />
  );
}

/** How many are open, beside the name of the column. */
export function NotesHead() {
  const { notes } = useNotes();
  const open = notes?.filter(({ done }) => !done).length ?? 0;
  return (
    <span title={open > 0 ? `${count(open, 'note')} to be ticked off` : undefined}>
      Notes{open > 0 && <Mono small> {open}</Mono>}
    </span>
  );
}
