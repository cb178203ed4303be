/** How things stand beside and under one another. Distances in pixels. */
import type { CSSProperties, HTMLAttributes, Ref } from 'react';

type Tag = 'div' | 'section' | 'main' | 'span' | 'label' | 'form' | 'li' | 'nav' | 'aside' | 'header' | 'footer';

interface Box extends HTMLAttributes<HTMLElement> {
  as?: Tag;
  ref?: Ref<HTMLDivElement>;
  /** Of a label. */
  htmlFor?: string;
  gap?: number;
  /** It takes what room is left. */
  grow?: boolean;
  /** It keeps its size whatever room there is. */
  fixed?: boolean;
  /** It may become smaller than what is in it. */
  shrink?: boolean;
  /** As high as what it stands in. */
  full?: boolean;
  /** What is left above it and below it. */
  above?: number;
  below?: number;
  /** At the far end of its row. */
  end?: boolean;
  pad?: CSSProperties['padding'];
  align?: CSSProperties['alignItems'];
  /** How room that is left over is spread. */
  spread?: CSSProperties['justifyContent'];
}

/** A box as its element, how it stands, and what is left for the element itself. */
function taken(box: Box) {
  const { as: Element = 'div', gap, grow, fixed, shrink, full, above, below, end, pad, align, spread, ...rest } = box;
  const style: CSSProperties = {
    gap,
    ...(grow && { flex: 1 }),
    ...(fixed && { flex: 'none' }),
    ...(shrink && { minWidth: 0, minHeight: 0 }),
    ...(full && { height: '100%' }),
    marginTop: above,
    marginBottom: below,
    ...(end && { marginLeft: 'auto' }),
    padding: pad,
    justifyContent: spread,
  };
  return { Element, align, style, rest: rest as HTMLAttributes<HTMLElement> };
}

/** Side by side, on one middle line. */
export function Row({ wrap, ...box }: Box & { wrap?: boolean }) {
  const { Element, align = 'center', style, rest } = taken(box);
  return (
    <Element {...rest} style={{ display: 'flex', alignItems: align, flexWrap: wrap ? 'wrap' : undefined, ...style }} />
  );
}

/** One under another, where one of them may take what room is left. */
export function Column(box: Box) {
  const { Element, align, style, rest } = taken(box);
  return <Element {...rest} style={{ display: 'flex', flexDirection: 'column', alignItems: align, ...style }} />;
}

/** One under another, or in columns. */
export function Stack({ columns, ...box }: Box & { columns?: CSSProperties['gridTemplateColumns'] }) {
  const { Element, align, style, rest } = taken(box);
  return <Element {...rest} style={{ display: 'grid', gridTemplateColumns: columns, alignContent: align, ...style }} />;
}

/** What takes the room that is left in its row. */
export function Grow({ shrink, ...box }: Pick<Box, 'as' | 'ref' | 'shrink'> & HTMLAttributes<HTMLElement>) {
  const { Element, rest } = taken(box);
  return <Element {...rest} style={{ flex: 1, ...(shrink && { minWidth: 0 }) }} />;
}

/** A list without bullets. */
export function PlainList({
  as: Element = 'ul',
  gap,
  ...rest
}: HTMLAttributes<HTMLElement> & { as?: 'ul' | 'ol'; gap?: number }) {
  const apart = gap === undefined ? {} : { display: 'grid', gap, gridTemplateColumns: 'minmax(0, 1fr)' };
  return <Element {...rest} style={{ listStyle: 'none', margin: 0, padding: 0, ...apart }} />;
}
