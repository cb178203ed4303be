import { Button } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { NoteCard } from '@wet-lacquer/sync/people.ts';
import { dateInWords } from '../../lib/words.ts';
import { Row, Stack } from '../../parts/layout.tsx';
import { Mono, Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useTemplate } from '../context.ts';
import { person } from '../person.ts';
import { goTo, type useNotes } from './notes.ts';
import { Saying } from './Saying.tsx';
import './notes.css';

/** Who said something, and when. */
const By = ({ name, at }: { name: string; at: string }) => (
  <Quiet small>
    {name}, {dateInWords(at)}
  </Quiet>
);

/** Does something, and says what went wrong. @returns whether it was done */
export type Tried = (work: () => Promise<void>) => Promise<boolean>;

interface Props {
  note: NoteCard;
  chosen: boolean;
  /** Names of those who sign in, by person. */
  people: Record<string, string>;
  act: ReturnType<typeof useNotes>['act'];
  tried: Tried;
}

/** A note with what was answered to it. */
export function Note({ note, chosen, people, act, tried }: Props) {
  const template = useTemplate();
  const nameOf = (who: string) => (who === person() ? 'you' : (people[who] ?? 'another browser'));
  const card = useRef<HTMLLIElement>(null);
  /** What is being answered; null: nothing is. */
  const [answer, setAnswer] = useState<string | null>(null);
  /** What was just ticked, until the server has it. */
  const [ticked, setTicked] = useState<boolean | null>(null);
  const sheet = template.sheets.find(({ key }) => key === note.place.sheet);
  useEffect(() => {
    if (chosen) card.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const where = `/${note.id}`;
  return (
    <li ref={card} aria-label={`Note ${note.number}`} className={chosen ? 'note chosen' : 'note'}>
      <Stack gap={4}>
        <Row gap={8}>
          <Mono small>{note.number}</Mono>
          <By name={nameOf(note.person)} at={note.at} />
        </Row>
        <p>{note.text}</p>
        {note.answers.map((one) => (
          <Stack key={one.id} pad="0 0 0 12px">
            <By name={nameOf(one.person)} at={one.at} />
            <p>{one.text}</p>
          </Stack>
        ))}
        {answer !== null && (
          <Saying
            called="Answer"
            label="answer"
            button="Say it"
            text={answer}
            onText={setAnswer}
            onSay={async (text) => (await tried(() => act('POST', `${where}/answers`, { text }))) && setAnswer(null)}
            onLeave={() => setAnswer(null)}
            escapes
          />
        )}
        <Row gap={4} wrap>
          {sheet && (
            <Button size="small" onClick={() => goTo(note, sheet)} aria-label={`Go to note ${note.number}`}>
              On {sheet.name}
            </Button>
          )}
          {answer === null && (
            <Button size="small" onClick={() => setAnswer('')} aria-label={`Answer note ${note.number}`}>
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
          label={note.done ? `Ticked off by ${nameOf(note.done.person)}` : 'Tick off'}
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
