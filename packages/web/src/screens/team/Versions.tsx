import { Button, InputBase } from '@mui/material';
import { useState } from 'react';
import { inVersion, MOST_OF_TEAM, versionOf } from '@wet-lacquer/core/team/team.ts';
import { wordsOfChange } from '@wet-lacquer/core/team/change.ts';
import { Grow, PlainList, Row } from '../../parts/layout.tsx';
import { FIELD, FIELD_NAME } from '../../parts/field.ts';
import { Heading, Quiet } from '../../parts/text.tsx';
import type { TeamState } from './useTeam.ts';

/** Seasons and changes of sponsor: everything shared under a name, put on all liveries at once and seen first. */
export function Versions({ state: { team, change } }: { state: TeamState }) {
  const [name, setName] = useState('');
  if (!team) return null;
  const { versions } = team;
  const keep = () => {
    change({ ...team, versions: [...versions, versionOf(team, name)] });
    setName('');
  };
  return (
    <section aria-label="Versions" style={{ marginTop: 20 }}>
      <Heading as="h2" size={15}>
        Versions
      </Heading>
      <Quiet as="p">A season, another sponsor: all that is shared, under a name. Put on, it is shown first.</Quiet>
      <PlainList gap={6}>
        {versions.map((version) => {
          const worn = wordsOfChange(team, inVersion(team, version)) === '';
          return (
            <Row key={version.id} as="li" gap={8}>
              <Grow as="span">{version.name}</Grow>
              {worn ? (
                <Quiet>is on</Quiet>
              ) : (
                <Button
                  size="small"
                  aria-label={`Put ${version.name} on`}
                  onClick={() => change(inVersion(team, version))}
                >
                  Put on
                </Button>
              )}
              <Button
                size="small"
                variant="text"
                aria-label={`Take the version ${version.name} out`}
                onClick={() => change({ ...team, versions: versions.filter(({ id }) => id !== version.id) })}
              >
                Take out
              </Button>
            </Row>
          );
        })}
      </PlainList>
      <Row
        as="form"
        gap={8}
        wrap
        above={8}
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '') keep();
        }}
      >
        <label style={{ ...FIELD, flex: '1 1 160px' }}>
          <span style={FIELD_NAME}>name</span>
          <InputBase
            value={name}
            onChange={(event) => setName(event.target.value)}
            inputProps={{ maxLength: 80, autoComplete: 'off', style: { padding: '3px 8px' } }}
            sx={{ flex: 1 }}
          />
        </label>
        <Button type="submit" disabled={name.trim() === '' || versions.length >= MOST_OF_TEAM.versions}>
          Keep as a version
        </Button>
      </Row>
    </section>
  );
}
