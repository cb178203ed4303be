/** How words stand: quiet ones, figures, headings. */
import type { HTMLAttributes, TdHTMLAttributes } from 'react';
import { INK, MONO } from '../theme.ts';

type Tag = 'p' | 'span' | 'div' | 'dt' | 'li' | 'small' | 'td' | 'strong' | 'label' | 'code';

interface Words extends HTMLAttributes<HTMLElement> {
  as?: Tag;
  /** Of a label. */
  htmlFor?: string;
  /** Of a cell of a table. */
  colSpan?: TdHTMLAttributes<HTMLElement>['colSpan'];
  small?: boolean;
  mono?: boolean;
}

/** What explains, beside what counts. */
export function Quiet({ as: Element = 'span', small, mono, ...rest }: Words) {
  return (
    <Element
      {...(rest as HTMLAttributes<HTMLElement>)}
      style={{
        color: INK.quiet,
        ...(Element === 'p' && { margin: 0 }),
        ...(small && { fontSize: 12 }),
        ...(mono && { fontFamily: MONO }),
      }}
    />
  );
}

/** Figures, names of files, code. */
export function Mono({ as: Element = 'span', small, ...rest }: Omit<Words, 'mono'>) {
  return (
    <Element {...(rest as HTMLAttributes<HTMLElement>)} style={{ fontFamily: MONO, ...(small && { fontSize: 12 }) }} />
  );
}

/** What is read aloud and not seen. */
export function Hidden({
  as: Element = 'span',
  ...rest
}: HTMLAttributes<HTMLElement> & { as?: 'span' | 'div' | 'legend' | 'h1' }) {
  return (
    <Element
      {...rest}
      style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}
    />
  );
}

/** For what keeps to one line and is cut where it does not fit. */
export const CUT_OFF = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

/** A heading as large as its place asks, whatever its level. */
export function Heading({
  as: Element,
  size = 13,
  grow,
  ...rest
}: HTMLAttributes<HTMLHeadingElement> & { as: 'h1' | 'h2' | 'h3' | 'h4'; size?: number; grow?: boolean }) {
  return <Element {...rest} style={{ fontSize: size, margin: 0, fontWeight: 600, ...(grow && { flex: 1 }) }} />;
}
