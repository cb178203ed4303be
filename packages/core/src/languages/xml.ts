import { XMLValidator } from 'fast-xml-parser';
import { heldIn, lastOf } from '../held.ts';
import { asLine, type FoundValue, type Span, type TextLanguage } from './kind.ts';
import { xmlParser, xmlValueAt } from './xmlPath.ts';

interface Open {
  name: string;
  from: number;
  inside: { name: string; span: Span }[];
}

export const xml: TextLanguage = {
  name: 'XML',
  called: 'XML',
  endings: ['xml'],
  begins: (text) => /^<[?!a-z]/i.test(text),
  escape: (value) => asLine(value).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`),
  flaw(text) {
    const result = XMLValidator.validate(text);
    return result === true ? null : `${result.err.msg.replace(/\.$/, '')} (line ${result.err.line})`;
  },
  entries(text) {
    const open: Open[] = [{ name: '', from: 0, inside: [] }];
    const spans: Span[] = [];
    const parser = xmlParser();
    let begins = 0;
    parser.on('opentagstart', ({ name }) => {
      begins = text.lastIndexOf(`<${name}`, parser.position - 1);
    });
    parser.on('opentag', ({ name }) => open.push({ name, from: begins, inside: [] }));
    parser.on('closetag', () => {
      const { name, from, inside } = open.pop()!;
      const several = new Map<string, number>();
      for (const one of inside) several.set(one.name, (several.get(one.name) ?? 0) + 1);
      for (const one of inside) if (heldIn(several, one.name) > 1) spans.push(one.span);
      lastOf(open).inside.push({ name, span: [from, parser.position] });
    });
    parser.write(text).close();
    return spans;
  },
  values(text) {
    const found: FoundValue[] = [];
    const open = [{ path: '', seen: new Map<string, number>(), begins: 0, leaf: false }];
    const parser = xmlParser();
    parser.on('opentag', ({ name, attributes }) => {
      const around = lastOf(open);
      around.leaf = false;
      const nth = (around.seen.get(name) ?? 0) + 1;
      around.seen.set(name, nth);
      const path = `${around.path}${around.path && '/'}${name}${nth > 1 ? `[${nth}]` : ''}`;
      const at = parser.position - 1;
      for (const [key, value] of Object.entries(attributes))
        found.push({ path: `${path}/@${key}`, value: String(value), at });
      open.push({ path, seen: new Map(), begins: parser.position, leaf: true });
    });
    parser.on('closetag', ({ isSelfClosing }) => {
      const { path, begins, leaf } = open.pop()!;
      if (isSelfClosing || !leaf) return;
      const content = text.slice(begins, text.lastIndexOf('</', parser.position));
      if (content.trim()) found.push({ path, value: content.trim(), at: begins });
    });
    parser.write(text).close();
    return found;
  },
  valueAt: xmlValueAt,
};
