import { execFileSync } from 'node:child_process';
import { XMLParser } from 'fast-xml-parser';
import fc from '../testing/property.ts';
import { parse as parseToml } from 'smol-toml';
import { describe, expect, test } from 'vitest';
import type { SpecSidecar } from '../livery/spec.ts';
import { smallLivery, smallTemplate } from '../testing/scenes.ts';
import { fillTemplate, makeSidecar, sidecarView } from './sidecar.ts';
import { readText, writeText } from '../files/textFile.ts';

const files = [
  { sheet: 'face', map: 'colour', name: 'test_face.dds' },
  { sheet: 'face', map: 'normal', name: 'test_face_n.dds' },
];
const viewOf = (particulars: Record<string, string> = {}) => {
  const livery = smallLivery([]);
  return sidecarView(
    { ...livery, particulars: { ...livery.particulars, ...particulars } },
    smallTemplate(),
    'skins/test/',
    { text: '07', number: 7 },
    files,
  );
};
const bytesOf = (text: string) => new TextEncoder().encode(text);

/** A sidecar's text, and what is wrong with it. */
function make(
  making: SpecSidecar['making'],
  language: SpecSidecar['language'],
  base?: Uint8Array,
  particulars?: Record<string, string>,
) {
  const sidecar = { name: 'side', language, making };
  return makeSidecar(sidecar, 'side', viewOf(particulars), { 'livery.key': 'test' }, base);
}
const template = (text: string): SpecSidecar['making'] => ({ kind: 'template', text });

describe('templates', () => {
  test('speak of particulars, number, sheets, files and colours; lists know their last', () => {
    const text =
      '[{{#files}}{{path}}{{^last}}, {{/last}}{{/files}}] {{slotNumber}} {{slot}} {{#sheets}}{{key}} {{roughness}}{{/sheets}}';
    expect(make(template(text), 'json').text).toBe(
      '["skins/test/test_face.dds", "skins/test/test_face_n.dds"] 7 "07" "face" 0.12',
    );
  });

  test('colours are linear floats (IEC 61966-2-1): 8 of 255 is 0.0024, full is 1', () => {
    const text = '{{#colours}}{{key}} {{red}} {{green}} {{blue}} {{/colours}}';
    expect(make(template(text), 'text').text).toBe('red 1 0 0 blue 0 0 1 ');
    const livery = smallLivery([]);
    const scheme = [{ ...livery.scheme[0], hex: '#080080' }];
    const view = sidecarView({ ...livery, scheme }, smallTemplate(), '', null, []);
    expect(view.colours).toMatchObject([{ red: 0.0024, green: 0, blue: 0.2159 }]);
  });

  test('that ask for something unknown, or cannot be read, say so', () => {
    expect(make(template('{{livery.colour.of}} {{craftt}}'), 'text').problems[0]).toMatch(/asks for "craftt"/);
    expect(make(template('{{#sheets}}'), 'text').problems[0]).toMatch(/cannot be read/);
    expect(make(template('{{> other}}'), 'text').problems[0]).toMatch(/do not have/);
  });

  test('that repeat lists in lists stop before they begin; a list in a list is fine', () => {
    const nest = (n: number, name: string) => `{{#${name}}}`.repeat(n) + 'x' + `{{/${name}}}`.repeat(n);
    const many = { ...viewOf(), files: Array.from({ length: 60 }, (_, i) => ({ name: `f${i}`, last: false })) };
    expect(fillTemplate(nest(2, 'files'), many, 'text')).toBe('x'.repeat(3600));
    const began = performance.now();
    for (const text of [
      nest(7, 'files'),
      nest(3, 'files'),
      nest(20, 'livery'),
      '{{#files}}{{#files}}' + 'x'.repeat(9000) + '{{/files}}{{/files}}',
    ])
      expect(() => fillTemplate(text, many, 'text')).toThrow(/repeats itself|sections more than/);
    expect(() => fillTemplate('{{constructor}}', many, 'text')).toThrow(/constructor/);
    expect(performance.now() - began).toBeLessThan(10_000);
  });

  test('a value never becomes more than a value, whatever a painter types', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (name) => {
        const json = make(template('{"a": {{particulars.name}}, "b": 1}'), 'json', undefined, { name });
        const said = name.replace(/\{([a-z][a-zA-Z]*)\}/g, (whole, key: string) => (key === 'name' ? name : whole));
        if (said !== name) return;
        expect(JSON.parse(json.text)).toEqual({ a: name, b: 1 });
        // DEL is the one character that JSON leaves as it is and TOML 1.0 forbids.
        if (!/[\x7f-\x9f\ud800-\udfff]/.test(name))
          expect(
            parseToml(make(template('a = {{particulars.name}}\nb = 1'), 'toml', undefined, { name }).text),
          ).toEqual({ a: name, b: 1 });
        const xml = make(template('<a name="{{particulars.name}}"><b/></a>'), 'xml', undefined, { name });
        const read = new XMLParser({ ignoreAttributes: false, processEntities: true, htmlEntities: true }).parse(
          xml.text,
        ) as { a: object };
        expect(Object.keys(read.a).sort()).toEqual(
          ['@_name', 'b'].filter((key) => key === 'b' || name.trim() !== '' || '@_name' in read.a),
        );
        const script = make(template('title "{{particulars.name}}"'), 'script', undefined, { name }).text;
        expect(script).toMatch(/^title "[^"\n\r]*"$/);
      }),
      { numRuns: 300 },
    );
  });

  test('what is not its language, and stray spaces, are found before anything is written', () => {
    expect(make(template('{"a": 1,}'), 'json').problems[0]).toMatch(/would not be JSON/);
    expect(make(template('a = '), 'toml').problems[0]).toMatch(/would not be TOML/);
    expect(make(template('<a><b></a>'), 'xml').problems[0]).toMatch(/would not be XML.*line 1/);
    expect(make(template('a \nb'), 'script').problems[0]).toMatch(/line 1 ends with a stray space/);
    expect(make(template('a\nb'), 'script').problems).toEqual([]);
  });
});

describe('a numbered section', () => {
  const making: SpecSidecar['making'] = {
    kind: 'section',
    begins: 'entry {n} {',
    ends: '}',
    own: '"{livery.key}"',
    text: '  code "{{livery.key}}" {{n}}',
  };
  const other = (n: number, code = `other${n}`) => `entry ${n} {\n  code "${code}" ${n}\n}\n`;
  const after = (text: string) => make(making, 'script', bytesOf(text));

  test('takes the next number, or the first that is free in the sequence', () => {
    expect(after('').text).toBe(other(0, 'test'));
    expect(after(other(0) + other(1)).text).toBe(other(0) + other(1) + other(2, 'test'));
    expect(after(other(0) + other(2)).text).toBe(other(0) + other(1, 'test') + other(2));
  });

  test('is renewed in its place, and put right when its number does not follow', () => {
    const list = other(0) + 'entry 1 {\n  code "test" of before\n}\n' + other(2);
    expect(after(list).text).toBe(other(0) + other(1, 'test') + other(2));
    expect(after(other(0) + other(5, 'test')).text).toBe(other(0) + other(1, 'test'));
    expect(after(other(0) + other(0, 'test')).text).toBe(other(0) + other(1, 'test'));
    // Its own end was lost.
    expect(after(other(0) + 'entry 1 {\n  code "test" 1\n').text).toBe(other(0) + other(1, 'test'));
  });

  test('leaves everything else to the byte: remarks, odd spaces, line ends, encoding', () => {
    const before = '// Städte \r\n\r\n' + other(0).replaceAll('\n', '\r\n') + '\t// end';
    const latin = Uint8Array.from(before, (c) => c.charCodeAt(0));
    const { bytes, problems } = make(making, 'script', latin);
    expect(problems).toEqual([]);
    const text = Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
    expect(text).toBe('// Städte \r\n\r\n' + (other(0) + other(1, 'test')).replaceAll('\n', '\r\n') + '\t// end\r\n');
  });

  test('does not touch a list in which somebody else’s section has no end', () => {
    expect(after('entry 0 {\n  code "x"\n').problems[0]).toMatch(/section of line 1 has no end/);
  });
});

describe('changes in the original’s own file', () => {
  const set = (path: string, value: string): SpecSidecar['making'] => ({ kind: 'values', set: [{ path, value }] });

  test('a value in JSON changes, and the text around it stays', () => {
    const text = '{\n   "skin": { "file" : "old.dds", "glow": 0.5 },  "list": [1,2]\n}\n';
    const change = (path: string, value: string) => make(set(path, value), 'json', bytesOf(text)).text;
    expect(change('skin.file', '{{livery.key}}')).toBe(text.replace('"old.dds"', '"test"'));
    expect(change('list.1', '{{slotNumber}}')).toBe(text.replace('[1,2]', '[1,7]'));
    expect(change('skin.glow', '0.25')).toBe(text.replace('0.5', '0.25'));
    expect(make(set('skin.name', 'x'), 'json', bytesOf(text)).problems[0]).toMatch(/no value at "skin.name"/);
  });

  test('a value in an INI-like file changes, its remark stays', () => {
    const text = 'top = 1\n[skin]\nfile = old.dds ; what is worn\n[other]\nfile=keep\n';
    expect(make(set('skin.file', '{{livery.key}}.dds'), 'ini', bytesOf(text)).text).toBe(
      text.replace('old.dds', 'test.dds'),
    );
    expect(make(set('top', '2'), 'ini', bytesOf(text)).text).toBe(text.replace('top = 1', 'top = 2'));
    expect(make(set('skin.none', '2'), 'ini', bytesOf(text)).problems).toHaveLength(1);
  });

  describe('a value in XML', () => {
    const text = `<?xml version="1.0"?>
<!-- worn > by "all" -->
<crate  format = "2">
  <name> Old &amp; grey </name>
  <paint slot='a' file="old.dds"/><paint
     file='keep>this.dds' slot="b" >
    <gloss>0.5</gloss><tint><r>1</r></tint></paint>
  <![CDATA[<paint slot="b" file="no"/>]]>
  <empty></empty>
</crate>
`;
    const change = (path: string, value: string) => make(set(path, value), 'xml', bytesOf(text));
    /** By Python's xml.etree, which knows the same paths. */
    const byPython = (xml: string, path: string, attribute: string | null) =>
      execFileSync('/usr/bin/python3', ['-c', PYTHON, path, attribute ?? ''], { input: xml, encoding: 'utf8' });
    const PYTHON =
      'import sys, xml.etree.ElementTree as E\n' +
      'e = E.fromstring(sys.stdin.read()).find(sys.argv[1])\n' +
      'sys.stdout.write(e.get(sys.argv[2]) if sys.argv[2] else (e.text or "").strip())';

    test.each([
      ['crate/name', './name', null, 'Old &amp; grey'],
      ['crate/paint[2]/@file', './paint[2]', 'file', 'keep>this.dds'],
      ['/crate/paint[@slot="b"]/@file', './paint[@slot="b"]', 'file', 'keep>this.dds'],
      ["crate/paint[@slot='a']/@file", './paint[1]', 'file', 'old.dds'],
      ['crate/paint/gloss', './paint[2]/gloss', null, '0.5'],
      ['crate/@format', '.', 'format', '2'],
    ])('changes at %s, and nothing around it', (path, theirs, attribute, was) => {
      const { text: made, problems } = change(path, 'Test');
      expect(problems).toEqual([]);
      expect(made.length - text.length).toBe('Test'.length - was.length);
      const at = [...made].findIndex((c, i) => c !== text[i]);
      expect(made.slice(0, at) + was + made.slice(at + 'Test'.length)).toBe(text);
      expect(byPython(made, theirs, attribute)).toBe('Test');
    });

    test('of every leaf of any document is found where another reader finds it, and nothing else changes', () => {
      const word = fc.stringMatching(/^[a-z]{1,6}$/);
      const value = fc.stringMatching(/^[A-Za-z0-9 ;:.#>-]{0,12}$/);
      const leaf = fc.record({ name: word, value, quote: fc.constantFrom('"', "'"), of: word, attribute: value });
      fc.assert(
        fc.property(fc.array(leaf, { minLength: 1, maxLength: 6 }), fc.nat(), (leaves, pick) => {
          const document = `<top>\n${leaves.map((l) => `  <${l.name} ${l.of} = ${l.quote}${l.attribute}${l.quote}>${l.value}</${l.name}>`).join('\n')}\n</top>\n`;
          const chosen = leaves[pick % leaves.length];
          const nth = leaves.slice(0, pick % leaves.length).filter((l) => l.name === chosen.name).length;
          const parsed = (xml: string) =>
            new XMLParser({
              ignoreAttributes: false,
              parseTagValue: false,
              trimValues: true,
              attributeNamePrefix: '@',
            }).parse(xml) as {
              top: Record<string, unknown>;
            };
          const read = (xml: string) => [parsed(xml).top[chosen.name]].flat()[nth] as string | Record<string, string>;
          for (const path of [`top/${chosen.name}[${nth + 1}]`, `top/${chosen.name}[${nth + 1}]/@${chosen.of}`]) {
            const { text: made, problems } = make(set(path, 'Z9'), 'xml', bytesOf(document));
            expect(problems).toEqual([]);
            const now = read(made) as Record<string, string>;
            expect(path.includes('@') ? now[`@${chosen.of}`] : now['#text']).toBe('Z9');
            const was = path.includes('@') ? chosen.attribute : chosen.value.trim();
            expect(made.length - document.length).toBe(2 - was.length);
          }
        }),
        { numRuns: 200 },
      );
    });

    test('is escaped, fills what was empty, and is missed where there is none', () => {
      const odd = make(set('crate/paint/@file', '{{particulars.name}}'), 'xml', bytesOf(text), { name: `a"b'<&>` });
      expect(byPython(odd.text, './paint', 'file')).toBe(`a"b'<&>`);
      expect(byPython(change('crate/empty', 'full').text, './empty', null)).toBe('full');
      for (const path of ['crate/paint[3]/@file', 'crate/tint', 'crate/paint/tint', 'crate/name/@file', 'name'])
        expect(change(path, 'x').problems[0]).toMatch(/has no value at/);
      expect(change('crate/paint[last()]', 'x').problems[0]).toMatch(/is no path/);
      expect(make(set('a', 'b'), 'xml', bytesOf('<a><b></a>')).problems[0]).toMatch(/not well-formed/);
    });
  });

  test('words are replaced whole, and one that is not there is said', () => {
    const words = (word: string): SpecSidecar['making'] => ({
      kind: 'words',
      replace: [{ word, by: '{{livery.key}}' }],
    });
    expect(make(words('hull'), 'text', bytesOf('hull hulls my_hull hull.dds')).text).toBe(
      'test hulls my_hull test.dds',
    );
    expect(make(words('deck'), 'text', bytesOf('hull')).problems[0]).toMatch(/no word "deck"/);
  });

  test('a value in the place of a word is written as its language has it inside a text', () => {
    const word: SpecSidecar['making'] = { kind: 'words', replace: [{ word: 'hull', by: '{{particulars.name}}' }] };
    const name = 'Ann "B" <&> \\';
    const json = make(word, 'json', bytesOf('{"skin": "hull"}'), { name });
    expect(json.problems).toEqual([]);
    expect(JSON.parse(json.text)).toEqual({ skin: name });
    const xml = make(word, 'xml', bytesOf('<a skin="hull">hull</a>'), { name });
    expect(xml.problems).toEqual([]);
    expect(new XMLParser({ ignoreAttributes: false, htmlEntities: true }).parse(xml.text)).toEqual({
      a: { '@_skin': name, '#text': name },
    });
    // Typed as it stands, it is what it is; what that breaks is said with its line.
    const typed: SpecSidecar['making'] = { kind: 'words', replace: [{ word: 'hull', by: 'a "b"' }] };
    expect(make(typed, 'json', bytesOf('{\n"skin": "hull"\n}')).problems[0]).toMatch(/would not be JSON: line 2: /);
  });

  test('without the original there is nothing to change', () => {
    expect(make(set('a', 'b'), 'json').problems[0]).toMatch(/not in the game’s folder/);
  });
});

/** Encoded by Python's codecs, which are not ours. */
const byPython = (text: string, codec: string) =>
  new Uint8Array(
    execFileSync('/usr/bin/python3', [
      '-c',
      `import sys; sys.stdout.buffer.write(${JSON.stringify(text)}.encode(${JSON.stringify(codec)}))`,
    ]),
  );

describe('text files', () => {
  const text = 'Größe “5 €”\nzwei\n';
  test.each([
    ['utf-8', 'utf-8', false],
    ['utf-8-sig', 'utf-8', true],
    ['utf-16', 'utf-16le', true],
    ['cp1252', 'windows-1252', false],
  ] as const)('%s is read and written as it was, with either line end', (codec, encoding, mark) => {
    for (const lineEnd of ['\n', '\r\n'] as const) {
      const bytes = byPython(text.replaceAll('\n', lineEnd), codec);
      const read = readText(bytes);
      expect(read).toEqual({ text, facts: { encoding, mark, lineEnd } });
      expect(Buffer.from(writeText(read.text, read.facts)).equals(Buffer.from(bytes))).toBe(true);
    }
  });

  test('a character that the encoding has no place for is said, not turned into another', () => {
    expect(() => writeText('日', { encoding: 'windows-1252', mark: false, lineEnd: '\n' })).toThrow(/has no "日"/);
  });
});
