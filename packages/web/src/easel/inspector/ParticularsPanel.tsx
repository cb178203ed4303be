import { Button } from '@mui/material';
import { useState } from 'react';
import { fillIn, layersIn } from '@wet-lacquer/core/livery/livery.ts';
import { slugOf } from '@wet-lacquer/core/livery/slug.ts';
import { Heading, Mono } from '../../parts/text.tsx';
import { Row, Stack } from '../../parts/layout.tsx';
import { count } from '../../lib/words.ts';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';

const ABOUT: Record<string, string> = {
  name: 'the display name; it may hold other particulars, as {number}',
  key: 'the name of the folder and of every file in the game',
  number: 'the race number',
  registration: 'the registration',
  team: 'the crew',
  author: 'who painted it',
};

/** The livery's facts, typed once: they reach lettering, file names and sidecars. */
export function ParticularsPanel() {
  const { doc } = useEasel();
  const livery = useLivery();
  const [name, setName] = useState('');
  const keys = [...new Set([...Object.keys(ABOUT), ...Object.keys(livery.particulars)])];
  const uses = (key: string) =>
    layersIn(livery).filter((layer) => layer.kind === 'lettering' && layer.text.includes(`{${key}}`)).length;
  // The file key stays when the name changes, for files may be out under it already; that it does is said.
  const ofName = slugOf(fillIn(livery.particulars.name ?? '', livery.particulars));
  const valid = /^[a-z][a-zA-Z]{0,29}$/.test(name) && !keys.includes(name);
  return (
    <>
      <Heading as="h2" size={15}>
        Particulars
      </Heading>
      <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
        Typed once. Lettering holds them as {'{number}'}, {'{team}'} and so on.
      </p>
      <Stack gap={8}>
        {keys.map((key) => (
          <div key={key}>
            <TextEntry
              label={key}
              inputId={`particular-${key}`}
              mono={key === 'key'}
              value={livery.particulars[key] ?? ''}
              onCommit={(value) => doc.commit({ do: 'set-particular', key, value })}
            />
            <div style={{ color: INK.quiet, fontSize: 12, padding: '2px 0 0 8px' }}>
              {ABOUT[key] ?? 'your own'}
              {uses(key) > 0 && `; in ${count(uses(key), 'lettering')}`}
              {key === 'key' && ofName !== '' && ofName !== livery.particulars.key && (
                <>
                  ; the name would make it <Mono>{ofName}</Mono>
                  <Button
                    size="small"
                    sx={{ ml: 1, minHeight: 24, py: 0 }}
                    onClick={() => doc.commit({ do: 'set-particular', key, value: ofName }, `File key ${ofName}`)}
                  >
                    Make it so
                  </Button>
                </>
              )}
              {!ABOUT[key] && (
                <Button
                  size="small"
                  sx={{ ml: 1, minHeight: 24, py: 0 }}
                  onClick={() => doc.commit({ do: 'set-particular', key, value: null })}
                >
                  Take out
                </Button>
              )}
            </div>
          </div>
        ))}
      </Stack>
      <Row
        as="form"
        align="stretch"
        gap={6}
        above={12}
        onSubmit={(event) => {
          event.preventDefault();
          if (!valid) return;
          doc.commit({ do: 'set-particular', key: name, value: '' });
          setName('');
        }}
      >
        <input
          aria-label="Name of a new particular"
          value={name}
          onChange={(event) => setName(event.target.value.trim())}
          placeholder="homePort"
          style={{
            flex: 1,
            minWidth: 0,
            background: INK.raised,
            color: INK.text,
            border: `1px solid ${INK.edge}`,
            borderRadius: 2,
            padding: '0 8px',
            font: 'inherit',
            minHeight: 28,
          }}
        />
        <Button type="submit" disabled={!valid}>
          Add
        </Button>
      </Row>
    </>
  );
}
