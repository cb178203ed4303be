import { Button, InputBase, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import type { Rename } from '@wet-lacquer/core/delivery/textChange.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { Row, Stack } from '../../../parts/layout.tsx';
import { Heading } from '../../../parts/text.tsx';
import { INK, MONO } from '../../../theme.ts';

interface Props {
  rows: readonly Rename[];
  /** Words that run through the files. */
  suggested: readonly string[];
  livery: Livery;
  onChange(rows: Rename[]): void;
}

const FIELD = {
  border: `1px solid ${INK.edge}`,
  borderRadius: '2px',
  background: INK.raised,
  px: 1,
  fontFamily: MONO,
  fontSize: 12,
} as const;

/** Words and paths, each with what it becomes: typed, or one of the livery's own values. */
export function WordRows({ rows, suggested, livery, onChange }: Props) {
  const [menu, setMenu] = useState<{ row: number; at: HTMLElement } | null>(null);
  const set = (i: number, values: Partial<Rename>) => onChange(rows.with(i, { ...rows[i], ...values }));
  const free = suggested.filter((word) => !rows.some((row) => row.word === word));
  return (
    <Stack aria-label="Words" as="section" gap={6}>
      <Heading as="h2">What becomes what</Heading>
      {rows.map((row, i) => (
        <Stack key={i} columns="1fr 1fr auto auto" gap={6}>
          <InputBase
            value={row.word}
            placeholder="word or path"
            inputProps={{ 'aria-label': `Word ${i + 1}`, maxLength: 200 }}
            onChange={(event) => set(i, { word: event.target.value })}
            sx={FIELD}
          />
          <InputBase
            value={row.by}
            placeholder="becomes"
            inputProps={{ 'aria-label': `What word ${i + 1} becomes`, maxLength: 400 }}
            onChange={(event) => set(i, { by: event.target.value })}
            sx={FIELD}
          />
          <Button
            size="small"
            aria-label={`A value of the livery for word ${i + 1}`}
            onClick={(event) => setMenu({ row: i, at: event.currentTarget })}
          >
            Pick
          </Button>
          <Button
            size="small"
            aria-label={`Take word ${i + 1} out`}
            disabled={rows.length === 1}
            onClick={() => onChange(rows.toSpliced(i, 1))}
          >
            Out
          </Button>
        </Stack>
      ))}
      <Row align="stretch" gap={6} wrap>
        <Button size="small" onClick={() => onChange([...rows, { word: '', by: '' }])}>
          Another word
        </Button>
        {free.map((word) => (
          <Button
            key={word}
            size="small"
            variant="text"
            sx={{ fontFamily: MONO }}
            onClick={() => onChange([...rows.filter((row) => row.word.trim()), { word, by: '' }])}
          >
            {word}
          </Button>
        ))}
      </Row>
      <Menu anchorEl={menu?.at} open={menu !== null} onClose={() => setMenu(null)}>
        {Object.entries(livery.particulars).map(([key, value]) => (
          <MenuItem
            key={key}
            onClick={() => {
              if (menu) set(menu.row, { by: key === 'key' ? '{{livery.key}}' : `{{particulars.${key}}}` });
              setMenu(null);
            }}
          >
            {key === 'key' ? 'file key' : key}
            <span style={{ color: INK.quiet, marginLeft: 8 }}>{value}</span>
          </MenuItem>
        ))}
      </Menu>
    </Stack>
  );
}
