/** The look that all fields of the right column share: their name inside the edge, their value at its end. */
import type { CSSProperties } from 'react';
import { CONTROL, INK, MONO } from '../theme.ts';

export const FIELD: CSSProperties = {
  display: 'flex',
  alignItems: 'center',
  boxSizing: 'border-box',
  minHeight: CONTROL,
  minWidth: 0,
  border: `1px solid ${INK.edge}`,
  borderRadius: 2,
  background: INK.raised,
  paddingLeft: 8,
};

export const FIELD_NAME: CSSProperties = { color: INK.quiet, fontSize: 12, flex: 'none' };

/** A field for the digits of a colour, as wide as what it stands in. */
export const HEX_FIELD: CSSProperties = {
  width: '100%',
  height: CONTROL,
  marginTop: 8,
  background: INK.deep,
  color: INK.text,
  border: `1px solid ${INK.edge}`,
  borderRadius: 2,
  padding: '0 8px',
  fontFamily: MONO,
  fontSize: 12,
};

/** A link that stands in no sentence: as high as what else is pressed. */
export const STANDS_ALONE: CSSProperties = { display: 'inline-block', lineHeight: CONTROL };

/** For MUI's Select inside a field. */
export const FIELD_SELECT = {
  flex: 1,
  minWidth: 0,
  textAlign: 'right',
  fontSize: 13,
  '& .MuiSelect-select': { padding: '3px 24px 3px 6px !important' },
} as const;
