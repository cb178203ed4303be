import { Button } from '@mui/material';
import { useEffect, useRef, useState, type FormEvent } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import type { NoteCard } from '@wet-lacquer/sync/people.ts';
import { sentenceOf } from '../../lib/api.ts';
import { count, dateInWords } from '../../lib/words.ts';
import { PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Mono, Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { useTemplate } from '../context.ts';
import { useView } from '../flat/view.ts';
import { person } from '../person.ts';
import { useSession } from '../session.ts';
import { goTo, pinAt, useNotes, useNoting } from './notes.ts';

/** Characters of a note or an answer. */
const MOST = 2000;

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
      {place ? <Write people={people} act={act} tried={tried} /> : <Start />}
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

type Act = ReturnType<typeof useNotes>['act'];
type Tried = (work: () => Promise<void>) => Promise<boolean>;
interface Said {
  people: Record<string, string>;
  act: Act;
  tried: Tried;
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
function Write({ act, tried }: Said) {
  const template = useTemplate();
  const place = useNoting((s) => s.place)!;
  const text = useNoting((s) => s.text);
  const [sending, setSending] = useState(false);
  const leave = () => useNoting.setState({ place: null, text: '' });
  const say = async (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() === '' || sending) return;
    setSending(true);
    const said = await tried(() => act('POST', '', { text: text.trim(), place }));
    setSending(false);
    if (said) leave();
  };
  return (
    <form onSubmit={(event) => void say(event)} aria-label="New note">
      <Stack gap={6}>
        <Line
          label={`note on ${sheetNamed(template, place.sheet).name}`}
          value={text}
          autoFocus
          fullWidth
          multiline
          minRows={2}
          slotProps={{ htmlInput: { maxLength: MOST } }}
          onChange={(event) => useNoting.setState({ text: event.target.value })}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && event.ctrlKey) void say(event);
          }}
        />
        <Row gap={8}>
          <Button type="submit" size="small" variant="contained" disabled={text.trim() === '' || sending}>
            Pin it
          </Button>
          <Button size="small" onClick={leave}>
            Leave it
          </Button>
        </Row>
      </Stack>
    </form>
  );
}

/** Who said something, and when. */
function By({ people, who, at }: { people: Record<string, string>; who: string; at: string }) {
  const name = who === person() ? 'you' : (people[who] ?? 'another browser');
  return (
    <Quiet small>
      {name}, {dateInWords(at)}
    </Quiet>
  );
}

function Note({ note, chosen, people, act, tried }: Said & { note: NoteCard; chosen: boolean }) {
  const template = useTemplate();
  const card = useRef<HTMLLIElement>(null);
  const [answering, setAnswering] = useState(false);
  /** What was just ticked, until the server has it. */
  const [ticked, setTicked] = useState<boolean | null>(null);
  const sheet = template.sheets.find(({ key }) => key === note.place.sheet);
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const where = `/${note.id}`;
  return (
    <li
      ref={card}
      aria-label={`Note ${note.number}`}
      style={{
        borderLeft: `2px solid ${chosen ? INK.accent : INK.line}`,
        padding: '2px 0 2px 8px',
      }}
    >
      <Stack gap={4}>
        <Row gap={8}>
          <Mono small>{note.number}</Mono>
          <By people={people} who={note.person} at={note.at} />
        </Row>
        <Words text={note.text} />
        {note.answers.map((one) => (
          <Stack key={one.id} pad="0 0 0 12px">
            <By people={people} who={one.person} at={one.at} />
            <Words text={one.text} />
          </Stack>
        ))}
        {answering && (
          <Answer
            onLeave={() => setAnswering(false)}
            onSay={async (text) => {
              if (await tried(() => act('POST', `${where}/answers`, { text }))) setAnswering(false);
            }}
          />
        )}
        <Row gap={4} wrap>
          {sheet && (
            <Button size="small" onClick={() => goTo(note, sheet)} aria-label={`Go to note ${note.number}`}>
              On {sheet.name}
            </Button>
          )}
          {!answering && (
            <Button size="small" onClick={() => setAnswering(true)} aria-label={`Answer note ${note.number}`}>
              Answer
            </Button>
          )}
          {note.person === person() && note.answers.length === 0 && (
            <Button
              size="small"
              onClick={() => void tried(() => act('DELETE', where))}
              aria-label={`Delete note ${note.number}`}
            >
              Delete
            </Button>
          )}
        </Row>
        <Tick
          label={
            note.done
              ? `Ticked off by ${note.done.person === person() ? 'you' : (people[note.done.person] ?? 'another browser')}`
              : 'Tick off'
          }
          checked={ticked ?? note.done !== null}
          onChange={(to) => {
            setTicked(to);
            void tried(() => act('POST', where, { done: to })).then(() => setTicked(null));
          }}
        />
      </Stack>
    </li>
  );
}

/** As it was written, lines and all. */
const Words = ({ text }: { text: string }) => (
  <p style={{ margin: 0, whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{text}</p>
);

function Answer({ onSay, onLeave }: { onSay(text: string): Promise<void>; onLeave(): void }) {
  const [text, setText] = useState('');
  const say = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim() !== '') void onSay(text.trim());
  };
  return (
    <form onSubmit={say} aria-label="Answer">
      <Stack gap={6} above={4}>
        <Line
          label="answer"
          value={text}
          autoFocus
          fullWidth
          multiline
          slotProps={{ htmlInput: { maxLength: MOST } }}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && event.ctrlKey) say(event);
            if (event.key === 'Escape') onLeave();
          }}
        />
        <Row gap={8}>
          <Button type="submit" size="small" variant="contained" disabled={text.trim() === ''}>
            Say it
          </Button>
          <Button size="small" onClick={onLeave}>
            Leave it
          </Button>
        </Row>
      </Stack>
    </form>
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
