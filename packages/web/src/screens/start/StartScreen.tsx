import { Button, LinearProgress } from '@mui/material';
import { useState, type FormEvent } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { get, send, sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Column, Row } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { INK } from '../../theme.ts';
import { LineField } from './LineField.tsx';
import { NamesToBe } from './NamesToBe.tsx';
import { OtherWays } from './OtherWays.tsx';
import { SubjectCard } from './SubjectCard.tsx';

/** The way to a new livery: what is painted, then what it is called, with the names that its files will have. */
export function StartScreen() {
  const { data: templates, error } = useSWR<TemplateCard[]>('/templates');
  const [search] = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(search.get('subject'));
  const [name, setName] = useState('');
  const [team, setTeam] = useState('');
  const [choices, setChoices] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const subject = templates?.find((one) => one.hash === chosen) ?? templates?.[0];

  const start = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      // Who types fast is done before the subjects have come.
      const template = subject ?? (await get<TemplateCard[]>('/templates'))[0];
      if (!template) throw new Error('There is no subject yet: bring one in first.');
      const { id } = await send<{ id: string }>('POST', '/liveries', { template: template.hash, name, team, choices });
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
      setBusy(false);
    }
  };

  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/" of="Liveries">
            Start
          </Trail>
        }
      />
      <form
        aria-label="Start a livery"
        onSubmit={(event) => void start(event)}
        style={{ flex: 1, minHeight: 0, display: 'flex', flexWrap: 'wrap', overflow: 'auto' }}
      >
        <main style={{ flex: '1 1 420px', minWidth: 0, padding: '20px 24px' }}>
          <Heading as="h1" size={18}>
            Start a livery
          </Heading>
          <OtherWays subject={subject?.hash ?? null} onProblem={setProblem} />
          <Row gap={10} above={20} below={10}>
            <Heading as="h2" size={14}>
              What is painted
            </Heading>
            <Quiet>{subject && `${subject.name}, for ${subject.gameName}`}</Quiet>
          </Row>
          {error && !templates && <Notice level="error">{sentenceOf(error)}</Notice>}
          {!templates && !error && <LinearProgress aria-label="Reading the subjects" />}
          {templates?.length === 0 && (
            <Nothing title="No subject yet">Bring in what the game or its community gives out.</Nothing>
          )}
          <div
            role="radiogroup"
            aria-label="Subject"
            style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))', gap: 12 }}
          >
            {templates?.map((template) => (
              <SubjectCard
                key={template.hash}
                template={template}
                on={template === subject}
                onChoose={() => {
                  setChosen(template.hash);
                  setChoices({});
                }}
              />
            ))}
          </div>
        </main>
        <aside
          aria-label="Its name"
          style={{
            flex: '0 1 340px',
            minWidth: 280,
            padding: '20px 16px',
            background: INK.panel,
            borderLeft: `1px solid ${INK.line}`,
            display: 'flex',
            flexDirection: 'column',
            gap: 10,
          }}
        >
          <Heading as="h2" size={14}>
            What it is called
          </Heading>
          <LineField label="Name" value={name} onChange={setName} maxLength={80} required autoFocus />
          <LineField label="Crew" value={team} onChange={setTeam} maxLength={200} />
          {subject?.choices.map(({ name: of, options, shown }) => (
            <Choice
              key={`${subject.hash} ${of}`}
              label={of}
              value={choices[of] ?? shown ?? options[0]}
              options={options.map((value) => ({ value, label: value }))}
              onChange={(option) => setChoices({ ...choices, [of]: option })}
            />
          ))}
          <Button type="submit" variant="contained" color="primary" disabled={name.trim() === '' || busy}>
            Start the livery
          </Button>
          {problem && <Notice level="error">{problem}</Notice>}
          {subject && <NamesToBe subject={subject.hash} name={name} team={team} />}
        </aside>
      </form>
    </Column>
  );
}
