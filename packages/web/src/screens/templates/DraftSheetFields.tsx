import { Button } from '@mui/material';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { Hidden, Quiet } from '../../parts/text.tsx';
import { Row } from '../../parts/layout.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { MAPS, NONE, pick, type Draft } from './draft.ts';

type DraftSheet = Draft['sheets'][number];

interface Props {
  sheet: DraftSheet;
  /** Names of the files that came, by what they can be. */
  textures: readonly string[];
  layered: readonly string[];
  /** Sets of UVs of its material, and which is taken; undefined: there is no choice. */
  uvSets: { sets: number; taken: number } | undefined;
  onSheet(values: Partial<DraftSheet>): void;
  /** A file carries the sheet's art and follows it. */
  onFollow(name: string): void;
  onUvSets(chosen: Record<string, number>): void;
  /** Left out: it is the only one. */
  onLeaveOut?: () => void;
}

/** Which files go on one sheet of a template that is being made. */
export function DraftSheetFields({ sheet, textures, layered, uvSets, onSheet, onFollow, onUvSets, onLeaveOut }: Props) {
  return (
    <fieldset
      style={{
        border: 0,
        borderTop: `1px solid ${INK.line}`,
        margin: 0,
        padding: '8px 0 0',
        display: 'grid',
        gap: 6,
      }}
    >
      <Hidden as="legend">{sheet.name}</Hidden>
      <TextEntry label="sheet" value={sheet.name} required maxLength={60} onCommit={(name) => onSheet({ name })} />
      <Choice
        label="original"
        value={sheet.colour ?? NONE}
        options={pick(textures, 'none')}
        onChange={(name) => onSheet({ colour: name === NONE ? null : name })}
      />
      <Choice
        label="layered file"
        value={sheet.layered ?? NONE}
        options={pick(layered, 'none')}
        onChange={(name) => onSheet({ layered: name === NONE ? null : name })}
      />
      {sheet.maps.map(({ map, file }, k) => (
        <Choice
          key={map}
          label={map}
          value={file}
          options={pick(textures, 'none')}
          onChange={(name) =>
            onSheet({
              maps: name === NONE ? sheet.maps.toSpliced(k, 1) : sheet.maps.with(k, { map, file: name }),
            })
          }
        />
      ))}
      {sheet.maps.length < 7 && (
        <Choice
          label="another map"
          value={NONE}
          options={pick(
            MAPS.filter((map) => !sheet.maps.some((own) => own.map === map)),
            'none',
          )}
          onChange={(map) => {
            const file = textures.find((name) => name !== sheet.colour);
            if (map !== NONE && file) onSheet({ maps: [...sheet.maps, { map, file }] });
          }}
        />
      )}
      {sheet.followers.length > 0 && (
        <div style={{ display: 'grid', gap: 4, fontSize: 12 }}>
          <Quiet>Carry the same art and follow it:</Quiet>
          {sheet.followers.map((name) => (
            <Row key={name} gap={6}>
              <span style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{baseOf(name)}</span>
              <Button
                size="small"
                aria-label={`${baseOf(name)} does not follow`}
                onClick={() => onSheet({ followers: sheet.followers.filter((other) => other !== name) })}
              >
                No
              </Button>
            </Row>
          ))}
        </div>
      )}
      {sheet.colour && (
        <Choice
          label="follower"
          value={NONE}
          options={pick(
            textures.filter((name) => name !== sheet.colour && !sheet.followers.includes(name)),
            'another file that carries its art',
          )}
          onChange={(name) => name !== NONE && onFollow(name)}
        />
      )}
      {uvSets && (
        <Choice
          label="UVs"
          value={String(uvSets.taken)}
          options={Array.from({ length: uvSets.sets }, (_, k) => ({
            value: String(k),
            label: `set ${k + 1} of ${uvSets.sets}`,
          }))}
          onChange={(set) => {
            const chosen = Object.fromEntries([sheet.material, ...sheet.also].map((one) => [one, Number(set)]));
            onUvSets(chosen);
          }}
        />
      )}
      {(sheet.colour || sheet.layered) && (
        <Tick
          label="Stored upside down by the game"
          checked={sheet.upsideDown}
          onChange={(upsideDown) => onSheet({ upsideDown })}
        />
      )}
      {!sheet.colour && !sheet.layered && (
        <Choice
          label="size"
          value={String(sheet.side)}
          options={[256, 512, 1024, 2048, 4096, 8192].map((side) => ({
            value: String(side),
            label: `${side} x ${side}`,
          }))}
          onChange={(side) => onSheet({ side: Number(side) })}
        />
      )}
      {onLeaveOut && (
        <Button size="small" variant="text" sx={{ justifySelf: 'end' }} onClick={onLeaveOut}>
          Leave {sheet.name} out
        </Button>
      )}
    </fieldset>
  );
}
