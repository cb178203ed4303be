import { Button, Popover } from '@mui/material';
import { useState } from 'react';
import type { TeamItem } from '@wet-lacquer/core/team/team.ts';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { Row, Stack } from '../../parts/layout.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { ItemFields } from './ItemFields.tsx';
import { ValueChip } from './ValueChip.tsx';

interface Props {
  item: TeamItem;
  /** Null: it is shared no more. */
  onSet(item: TeamItem | null): void;
}

/** Something shared: its name, its value, and what can be set of it. */
export function ItemHead({ item, onSet }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <Row gap={8}>
      {item.kind === 'colour' && (
        <ColourInput
          label={`Colour ${item.name} of the team`}
          value={item.value}
          onCommit={(value) => onSet({ ...item, value })}
        />
      )}
      <button
        type="button"
        aria-haspopup="dialog"
        aria-label={`Set ${item.name}`}
        onClick={(event) => setAnchor(event.currentTarget)}
        style={{
          ...{ display: 'grid', gap: 1, minHeight: 28, padding: '2px 4px', background: 'transparent', border: 0 },
          ...{ color: INK.text, font: 'inherit', textAlign: 'left', cursor: 'pointer', alignContent: 'center' },
        }}
      >
        <span>{item.name}</span>
        {item.kind === 'colour' ? (
          <Quiet small mono>
            {item.value}
          </Quiet>
        ) : (
          <ValueChip kind={item.kind} value={item.value} />
        )}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': item.name, sx: { p: 1.5, width: 320 } } }}
      >
        <Stack gap={8}>
          {item.kind !== 'particular' && (
            <TextEntry
              label="name"
              value={item.name}
              required
              maxLength={60}
              onCommit={(name) => onSet({ ...item, name })}
            />
          )}
          <ItemFields
            item={item}
            onSet={(to) => {
              onSet(to);
              // There is nothing more to set of it. Not at once: the key that took it would press what gets the focus.
              if (to.kind === 'particular' || to.kind === 'mark') setTimeout(() => setAnchor(null));
            }}
          />
          <Button
            size="small"
            variant="text"
            onClick={() => {
              setAnchor(null);
              onSet(null);
            }}
          >
            Share it no more
          </Button>
        </Stack>
      </Popover>
    </Row>
  );
}
