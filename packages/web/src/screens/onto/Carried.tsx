import { Button } from '@mui/material';
import { Link } from 'react-router';
import { CARRIED, type CarriedNote } from '@wet-lacquer/core/transfer/plan.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { count } from '../../lib/words.ts';
import { Row } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import type { Made } from './useOnto.ts';

const TITLES: Readonly<Record<CarriedNote['how'], string>> = {
  'as it was': 'As they were',
  'on its sheet': 'In their place on the new sheets',
  'on the model': 'On the model',
  'as pixels': 'As pixels',
  'left behind': 'Left behind',
};

/** What became of each layer, the ones that need a look first. */
export function Carried({ made, name, old, onAgain }: { made: Made; name: string; old: Template; onAgain(): void }) {
  const nameOf = (sheet: string) => old.sheets.find(({ key }) => key === sheet)?.name ?? sheet;
  return (
    <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
      <Row gap={10} wrap below={6}>
        <Heading as="h1" size={18} grow>
          {name}
        </Heading>
        <Button onClick={onAgain}>Take it over differently</Button>
        <Button component={Link} to={`/liveries/${made.id}`} variant="contained">
          Open it on the easel
        </Button>
      </Row>
      <Quiet as="p">
        A livery of its own; the one that it came from is as it was. {count(made.notes.length, 'layer')} looked at.
      </Quiet>
      {CARRIED.toReversed().map((how) => {
        const own = made.notes.filter((note) => note.how === how);
        if (own.length === 0) return null;
        return (
          <section key={how} aria-label={TITLES[how]} style={{ marginTop: 18 }}>
            <Heading as="h2" size={14}>
              {TITLES[how]} ({own.length})
            </Heading>
            <ul style={{ margin: '6px 0 0', paddingLeft: 18, display: 'grid', gap: 3 }}>
              {own.map(({ layer, sheet, map, why }) => (
                <li key={`${sheet}/${map}/${layer}`}>
                  {layer}{' '}
                  <Quiet>
                    {nameOf(sheet)}
                    {map !== 'colour' && `, ${map}`}
                    {why && `: ${why}`}
                  </Quiet>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </main>
  );
}
