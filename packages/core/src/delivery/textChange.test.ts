import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { describe, expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { readExactly, withLineEnds, writeText } from '../files/textFile.ts';
import { changedLines, entriesWith, renamed, withEntriesBeside } from './textChange.ts';
import { jsonTree } from '../languages/json.ts';
import { byteOfLinear, valuesIn, withColour, withValue } from './textValues.ts';

describe('words', () => {
  test('are replaced all at once, the longest first, whole, and never in what another became', () => {
    const { text, times } = renamed('red_lion/red_lion_hull_d.dds redder Red_lion lion', [
      { word: 'red_lion', by: 'lion' },
      { word: 'lion', by: 'tiger' },
      { word: 'absent', by: 'x' },
    ]);
    expect(text).toBe('lion/lion_hull_d.dds redder Red_lion tiger'.replace('Red_lion', 'Red_tiger'));
    expect(times).toEqual([2, 2, 0]);
    // Paths are words too; what has a meaning in a pattern has none here.
    expect(renamed('tex\\hull (1).dds', [{ word: 'tex\\hull (1)', by: 'own/$&' }]).text).toBe('own/$&.dds');
  });

  test('every other character stays, whatever stands around them', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (a, b) => {
        fc.pre(!/q7z/.test(a + b) && !/[\p{L}\p{N}]$/u.test(a) && !/^[\p{L}\p{N}]/u.test(b));
        expect(renamed(`${a}q7z${b}`, [{ word: 'q7z', by: 'new' }]).text).toBe(`${a}new${b}`);
      }),
    );
  });
});

describe('entries beside those that are there', () => {
  const renames = [
    { word: 'lion', by: 'tiger' },
    { word: 'Lion', by: 'Tiger' },
  ];

  test('XML: the element that has others like it beside it is copied whole', () => {
    const xml =
      '<?xml version="1.0"?>\n<fleet>\n  <craft id="heron"><skin>heron.dds</skin></craft>\n  <craft id="lion">\n    <skin>lion_d.dds</skin>\n  </craft>\n</fleet>\n';
    const made = withEntriesBeside(xml, 'xml', renames);
    expect(XMLValidator.validate(made)).toBe(true);
    const craft = (new XMLParser({ ignoreAttributes: false }).parse(made) as { fleet: { craft: object[] } }).fleet
      .craft;
    expect(craft).toEqual([
      { '@_id': 'heron', skin: 'heron.dds' },
      { '@_id': 'lion', skin: 'lion_d.dds' },
      { '@_id': 'tiger', skin: 'tiger_d.dds' },
    ]);
    // Line ends are those of the text.
    const crlf = withEntriesBeside(xml.replaceAll('\n', '\r\n'), 'xml', renames);
    expect(crlf).toBe(made.replaceAll('\n', '\r\n'));
    // Taking the copy out gives the original back; a second time nothing is added.
    expect(made.replace(/\n {2}<craft id="tiger">[\s\S]*?<\/craft>/, '')).toBe(xml);
    expect(withEntriesBeside(made, 'xml', renames)).toBe(made);
  });

  test('JSON: a member of a list, or a record among records, with its comma', () => {
    const list = '{\n  "skins": [\n    { "name": "Heron" },\n    { "name": "Lion", "file": "lion.dds" }\n  ]\n}\n';
    expect((JSON.parse(withEntriesBeside(list, 'json', renames)) as { skins: object[] }).skins).toEqual([
      { name: 'Heron' },
      { name: 'Lion', file: 'lion.dds' },
      { name: 'Tiger', file: 'tiger.dds' },
    ]);
    const records = '{"skins": {"heron": {"d": "heron.dds"}, "lion": {"d": "lion.dds"}}}';
    expect(JSON.parse(withEntriesBeside(records, 'json', renames))).toEqual({
      skins: { heron: { d: 'heron.dds' }, lion: { d: 'lion.dds' }, tiger: { d: 'tiger.dds' } },
    });
  });

  test('INI: the section; scripts: the block in braces; plain text: the line', () => {
    const ini = '[heron]\nfile=heron.dds\n\n[lion]\nfile=lion.dds\n';
    expect(withEntriesBeside(ini, 'ini', renames)).toBe(`${ini}[tiger]\nfile=tiger.dds\n`);
    const script = 'skins\n{\n  skin lion\n  {\n    file "lion {x}.dds"\n  }\n}\n';
    expect(withEntriesBeside(script, 'script', renames)).toBe(
      'skins\n{\n  skin lion\n  {\n    file "lion {x}.dds"\n  }\n  skin tiger\n  {\n    file "tiger {x}.dds"\n  }\n}\n',
    );
    expect(withEntriesBeside('heron\nlion\nowl', 'text', renames)).toBe('heron\nlion\ntiger\nowl');
    expect(withEntriesBeside('heron\r\nlion\r\nowl', 'text', renames)).toBe('heron\r\nlion\r\ntiger\r\nowl');
    expect(entriesWith('nothing here', 'text', ['lion'])).toEqual([]);
  });
});

describe('values', () => {
  const xml =
    '<m>\n  <mat name="hull" r="0.0025" g="0.5" b="1">\n    <spec>0.2, 0.3 0.4 0.75</spec>\n  </mat>\n  <mat name="glass"/>\n</m>';
  test('are found with their lines, and what is found can be set there, with nothing else changed', () => {
    const languages = { xml, json: '{"a": {"b": [1, "x"]},\n "c": true}', ini: 'k = 1\n[s.t]\nname = Old ; why\n' };
    for (const [language, text] of Object.entries(languages) as ['xml' | 'json' | 'ini', string][]) {
      const values = valuesIn(text, language);
      expect(values.length).toBeGreaterThan(1);
      for (const { path, value, line } of values) {
        expect(text.split('\n')[line - 1]).toContain(value);
        // A value put where it is leaves the text as it is.
        expect(withValue(text, language, path, language === 'json' ? JSON.stringify(value) : value)).toMatch(/./);
        const own = language === 'json' ? null : withValue(text, language, path, value);
        if (own !== null) expect(own).toBe(text);
      }
    }
    expect(valuesIn(languages.ini, 'ini').map(({ path }) => path)).toEqual(['k', 's.t.name']);
    expect(valuesIn(xml, 'xml').map(({ path }) => path)).toContain('m/mat[2]/@name');
  });

  test('a colour is written as linear numbers; one that stands for it already stays as it was typed (IEC 61966-2-1)', () => {
    // Linear 0.0025 is sRGB 0.0323, 8-bit value 8.
    expect(byteOfLinear(0.0025)).toBe(8);
    expect(withColour(xml, 'xml', 'm/mat/@r', '#08ff00', { as: 'linear', channel: 'red' })).toBe(xml);
    const green = withColour(xml, 'xml', 'm/mat/@g', '#08ff00', { as: 'linear', channel: 'green' })!;
    expect(green).toBe(xml.replace('g="0.5"', 'g="1"'));
    // Three of four numbers; what is between them, and the alpha, stay. sRGB 128 is linear 0.215861.
    const spec = withColour(xml, 'xml', 'm/mat/spec', '#808080', { as: 'linear' })!;
    expect(spec).toBe(xml.replace('0.2, 0.3 0.4 0.75', '0.215861, 0.215861 0.215861 0.75'));
    expect(withColour('{"c": [1, 2, 3, 255]}', 'json', 'c', '#0a0b0c', { as: 'bytes' })).toBe(
      '{"c": [10, 11, 12, 255]}',
    );
    expect(withColour('tint = #FFAA00FF', 'ini', 'tint', '#12ab34', { as: 'hex' })).toBe('tint = #12AB34FF');
    expect(withColour(xml, 'xml', 'm/mat/@name', '#808080', { as: 'linear' })).toBeNull();
    expect(withColour(xml, 'xml', 'm/none', '#808080', { as: 'linear' })).toBeNull();
  });

  test('what is no JSON is said with its line', () => {
    const why = (text: string) => {
      try {
        jsonTree(text);
      } catch (error) {
        return (error as Error).message;
      }
      return null;
    };
    expect(why('{\n "a": 1\n "b": 2\n}')).toBe('line 3: a comma is wanted');
    expect(why('{\n "a": 1,\n "b" 2\n}')).toMatch(/^line 3/);
    expect(why('{"a": [1, 2}')).toMatch(/^line 1/);
    expect(why('{}')).toBeNull();
  });
});

describe('texts as they are stored', () => {
  test('any bytes of a text come back as they were; edited lines alone take other line ends', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('a', 'é', '\r\n', '\n', ' ', '€', '\t')), fc.boolean(), (parts, mark) => {
        const bytes = writeText(parts.join(''), { encoding: 'utf-8', mark, lineEnd: '\n' });
        const { text, facts } = readExactly(bytes);
        expect(writeText(text, facts)).toEqual(bytes);
        expect(withLineEnds(text, text.replaceAll('\r\n', '\n'))).toBe(text);
      }),
    );
    expect(withLineEnds('a\r\nb\nc\r\nd\r\n', 'a\nb\nX\nd\ne\n')).toBe('a\r\nb\nX\r\nd\r\ne\r\n');
  });

  test('the lines that change are told, each with what it was', () => {
    expect(changedLines('a\nb\nc\n', 'a\nB\nc\nd\n')).toEqual([
      { line: 2, before: 'b', after: 'B' },
      { line: 4, before: null, after: 'd' },
    ]);
    expect(changedLines('a\n', 'a\n')).toEqual([]);
  });
});
