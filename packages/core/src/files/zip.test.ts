/** Zip containers against Python's own zipfile, which writes what we read and reads what we wrote. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import fc from '../testing/property.ts';
import { strToU8, zipSync } from 'fflate';
import { afterAll, describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { inTemporary, python } from '../testing/layeredFiles.ts';
import { crc32 } from '../crc32.ts';
import { linesNaming, mentionsOf, ownCopy } from './references.ts';
import {
  addEntry,
  openZip,
  readNested,
  removeEntry,
  renameEntry,
  replaceEntry,
  replaceNested,
  searchZip,
} from './zip.ts';

/** A zip as Python writes it: stored, deflated, streamed with data descriptors, with comments and an extra field. */
const made = inTemporary((folder) => {
  const file = path.join(folder, 'made.bale');
  python(
    `
import sys, zipfile, io
class Stream(io.RawIOBase):
    def __init__(self, f): self.f = f
    def writable(self): return True
    def write(self, b): return self.f.write(b)
inner = io.BytesIO()
with zipfile.ZipFile(inner, 'w', zipfile.ZIP_DEFLATED) as z:
    z.writestr('textures/coat.dds', b'COAT' * 400)
    z.writestr('note.txt', 'inside')
with open(sys.argv[1], 'wb') as f, zipfile.ZipFile(Stream(f), 'w') as z:
    info = zipfile.ZipInfo('readme.txt', (1999, 12, 31, 23, 58, 2)); info.comment = b'a comment of its own'; info.extra = b'\\x99\\x99\\x04\\x00abcd'
    z.writestr(info, 'first')
    z.writestr('textures/hull.png', bytes(range(256)) * 40, zipfile.ZIP_DEFLATED)
    z.writestr('empty/', '')
    z.writestr('deep.over', inner.getvalue(), zipfile.ZIP_DEFLATED)
    z.writestr('last.txt', 'last', zipfile.ZIP_DEFLATED)
    z.comment = b'of the whole'
`,
    file,
  );
  return new Uint8Array(readFileSync(file));
});

/** What Python finds in an archive: name, time, comment, extra field, method, and the packed bytes of each entry. */
const asPython = (bytes: Uint8Array) =>
  inTemporary((folder) => {
    const file = path.join(folder, 'in.zip');
    writeFileSync(file, bytes);
    return JSON.parse(
      python(
        `
import sys, zipfile, json, hashlib
z = zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None
raw = open(sys.argv[1], 'rb').read()
def packed(i):
    n, e = int.from_bytes(raw[i.header_offset+26:i.header_offset+28], 'little'), int.from_bytes(raw[i.header_offset+28:i.header_offset+30], 'little')
    start = i.header_offset + 30 + n + e
    return hashlib.sha256(raw[start:start+i.compress_size]).hexdigest()
print(json.dumps({'comment': z.comment.decode(), 'entries': [[i.filename, list(i.date_time), i.comment.decode(), i.extra.hex(), i.compress_type, packed(i), hashlib.sha256(z.read(i)).hexdigest()] for i in z.infolist()]}))
`,
        file,
      ),
    ) as { comment: string; entries: [string, number[], string, string, number, string, string][] };
  });

describe('zip containers', () => {
  test('the check value of CRC-32 is the published one', () => {
    // "123456789" gives cbf43926 (Williams, "A painless guide to CRC error detection algorithms", 1993).
    expect(crc32(strToU8('123456789'))).toBe(0xcbf43926);
  });

  test('entries of every kind that Python writes are read', () => {
    const zip = openZip(made);
    expect(zip.entries.map((e) => [e.name, e.size, e.folder])).toEqual([
      ['readme.txt', 5, false],
      ['textures/hull.png', 10240, false],
      ['empty/', 0, true],
      ['deep.over', zip.read('deep.over')!.length, false],
      ['last.txt', 4, false],
    ]);
    expect(new TextDecoder().decode(zip.read('readme.txt')!)).toBe('first');
    expect(zip.read('textures/hull.png')![255]).toBe(255);
    expect(zip.read('nothing')).toBeNull();
  });

  test.each(['readme.txt', 'textures/hull.png', 'deep.over', 'last.txt'])(
    'replacing %s leaves all others byte for byte, with their times, comments and order',
    (name) => {
      const content = strToU8('something else, longer or shorter '.repeat(name.length));
      const before = asPython(made);
      const bytes = replaceEntry(made, name, content);
      const after = asPython(bytes);
      expect(after.comment).toBe(before.comment);
      expect(after.entries.map(([n]) => n)).toEqual(before.entries.map(([n]) => n));
      after.entries.forEach((entry, i) => {
        if (entry[0] !== name) expect(entry).toEqual(before.entries[i]);
        else expect(entry.slice(0, 4)).toEqual(before.entries[i].slice(0, 4));
      });
      expect(openZip(bytes).read(name)).toEqual(content);
      // Put back, the content is what it was.
      const back = replaceEntry(bytes, name, openZip(made).read(name)!);
      expect(asPython(back).entries.map((e) => e[6])).toEqual(before.entries.map((e) => e[6]));
    },
  );

  test('archives in archives are searched, read and repacked from the inside out', () => {
    const found = searchZip(made, (name) => /\.(dds|png)$/.test(name));
    expect(found).toEqual([['textures/hull.png'], ['deep.over', 'textures/coat.dds']]);
    expect(new TextDecoder().decode(readNested(made, found[1]).subarray(0, 8))).toBe('COATCOAT');
    const bytes = replaceNested(made, found[1], strToU8('NEW'));
    expect(new TextDecoder().decode(readNested(bytes, found[1]))).toBe('NEW');
    expect(new TextDecoder().decode(readNested(bytes, ['deep.over', 'note.txt']))).toBe('inside');
    const before = asPython(made).entries;
    asPython(bytes).entries.forEach((entry, i) => {
      if (entry[0] !== 'deep.over') expect(entry).toEqual(before[i]);
    });
    expect(() => readNested(made, ['deep.over', 'not there'])).toThrow(/no "not there"/);
  });

  test('a bomb is refused by what it declares, and a lie about sizes by what it is', () => {
    const lie = made.slice();
    const view = new DataView(lie.buffer);
    const directory = view.getUint32(lie.length - 22 - 'of the whole'.length + 16, true);
    const record = directory + 46 + 'readme.txt'.length + 8 + 'a comment of its own'.length;
    view.setUint32(record + 24, 0xfffffff0, true);
    expect(() => openZip(lie)).toThrow(/more than 1 GiB/);
    view.setUint32(record + 24, 900_000_000, true);
    expect(() => openZip(lie).read('textures/hull.png')).toThrow(/larger than it can be/);
    view.setUint32(record + 24, 10239, true);
    expect(() => openZip(lie).read('textures/hull.png')).toThrow(InputError);
  });

  test('whatever is changed in it, it is read or refused in a sentence', () => {
    const small = zipSync({ 'a.txt': strToU8('hello hello hello'), 'b/c.bin': new Uint8Array(40) });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(small.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        fc.nat(small.length),
        (changes, cut) => {
          const bytes = small.slice(0, cut % 3 === 0 ? cut : small.length);
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
          try {
            const zip = openZip(bytes);
            for (const { name } of zip.entries) zip.read(name);
          } catch (error) {
            expect(error).toBeInstanceOf(InputError);
          }
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('an entry more', () => {
  test('stands at the end, and Python finds all others byte for byte as they were', () => {
    const before = asPython(made);
    const bytes = addEntry(made, 'textures/größe.png', strToU8('new '.repeat(50)), 'last.txt');
    const after = asPython(bytes);
    expect(after.comment).toBe(before.comment);
    expect(after.entries.slice(0, -1)).toEqual(before.entries);
    expect(after.entries.at(-1)!.slice(0, 2)).toEqual(['textures/größe.png', before.entries.at(-1)![1]]);
    expect(openZip(bytes).read('textures/größe.png')).toEqual(strToU8('new '.repeat(50)));
  });

  test.each(['../out.txt', '/root.txt', 'a/../../b', 'a\\b', '', 'folder/', '.'])('cannot be called "%s"', (name) => {
    expect(() => addEntry(made, name, strToU8('x'), 'last.txt')).toThrow(/cannot be the name/);
  });

  test('cannot have a name that is taken', () =>
    expect(() => addEntry(made, 'last.txt', strToU8('x'), 'last.txt')).toThrow(/already a "last.txt"/));
});

describe('what uses what', () => {
  const bom = Uint8Array.of(0xef, 0xbb, 0xbf);
  const xml =
    '<ship skin="coat.dds"/>\r\n<ship skin="COAT"/>\r\n<!-- coat_wet.dds, overcoat, coat.tga, caf\u00e9 -->\r\n';
  const pack = zipSync({
    'tex/coat.dds': strToU8('COAT'),
    'tex/coat_wet.dds': strToU8('WET'),
    'a.xml': Buffer.concat([bom, strToU8(xml)]),
    // Not UTF-8: an e with an accent in Latin-1.
    'b.ini': Uint8Array.of(...strToU8('tex=coat\nname=caf'), 0xe9, 0x0a),
    'c.json': strToU8('{"skin":"coat_wet"}'),
    'inner.crate': zipSync({ 'deep.mtl': strToU8('map_Kd ../tex/coat.dds') }),
    'big.bin': Uint8Array.of(0, 1, ...strToU8(' coat '), 2),
  });

  test('a file is mentioned by its whole name, with its ending or without, in nested containers too', () => {
    expect(mentionsOf(pack, 'tex/coat.dds').map(({ way, times }) => [way.join(' '), times])).toEqual([
      ['a.xml', 2],
      ['b.ini', 1],
      ['inner.crate deep.mtl', 1],
      ['big.bin', 1],
    ]);
    // One that is no text is named and left alone, whatever its ending.
    expect(mentionsOf(pack, 'tex/coat.dds').at(-1)).toMatchObject({ binary: true, line: '' });
    expect(() => ownCopy(pack, ['tex/coat.dds'], 'coat2.dds', [['big.bin']])).toThrow(/no text/);
    expect(mentionsOf(pack, 'tex/coat_wet.dds').map(({ way }) => way.join())).toEqual(['a.xml', 'c.json']);
    expect(mentionsOf(pack, 'tex/coat.dds')[1].line).toBe('tex=coat');
  });

  test('some get a copy of their own: only they are changed, with their line ends, encoding and mark kept', () => {
    const made = ownCopy(pack, ['tex/coat.dds'], 'coat_ann.dds', [['a.xml'], ['b.ini'], ['inner.crate', 'deep.mtl']]);
    const zip = openZip(made);
    expect(new TextDecoder().decode(zip.read('tex/coat_ann.dds')!)).toBe('COAT');
    const expected = xml.replace('"coat.dds"', '"coat_ann.dds"').replace('"COAT"', '"coat_ann"');
    expect(zip.read('a.xml')).toEqual(new Uint8Array(Buffer.concat([bom, strToU8(expected)])));
    expect([...zip.read('b.ini')!].slice(-2)).toEqual([0xe9, 0x0a]);
    expect(new TextDecoder().decode(readNested(made, ['inner.crate', 'deep.mtl']))).toBe('map_Kd ../tex/coat_ann.dds');
    for (const same of ['tex/coat.dds', 'tex/coat_wet.dds', 'c.json', 'big.bin'])
      expect(zip.read(same)).toEqual(openZip(pack).read(same));
  });

  test('lines of a text that name a file are told with their numbers', () => {
    expect(linesNaming('a=coat.dds\r\nb=coat_wet.dds\n  COAT\n', 'tex/coat.dds')).toEqual([
      { line: 1, text: 'a=coat.dds' },
      { line: 3, text: 'COAT' },
    ]);
  });

  test('a copy with another ending, for nobody, or for a text that does not mention it, is refused', () => {
    expect(() => ownCopy(pack, ['tex/coat.dds'], 'coat2.tga', [['a.xml']])).toThrow('The copy has to end in ".dds".');
    expect(() => ownCopy(pack, ['tex/coat.dds'], 'coat2.dds', [])).toThrow(/Choose which/);
    expect(() => ownCopy(pack, ['tex/coat.dds'], 'coat2.dds', [['c.json']])).toThrow(/does not mention coat.dds/);
    expect(() => ownCopy(pack, ['tex/none.dds'], 'coat2.dds', [['a.xml']])).toThrow(/no "tex\/none.dds"/);
  });

  const textBytes = fc
    .array(fc.constantFrom(9, 10, 13, ...Array.from({ length: 224 }, (_, i) => i + 32)), { maxLength: 60 })
    .filter((bytes) => !bytes.includes(127));
  test('every byte of a text that is not the name comes through, whatever its encoding', () => {
    fc.assert(
      fc.property(textBytes, textBytes, (head, tail) => {
        const text = (name: string) => Uint8Array.from([...head, 0x20, ...strToU8(name), 0x20, ...tail]);
        const zip = zipSync({ 'q7z.dds': strToU8('Q'), 'a.txt': text('q7z.dds') });
        const made = ownCopy(zip, ['q7z.dds'], 'own.dds', [['a.txt']]);
        expect(openZip(made).read('a.txt')).toEqual(text('own.dds'));
      }),
    );
  });
});

describe('names and entries of an archive', () => {
  const dir = mkdtempSync(path.join(os.tmpdir(), 'wl-zip-'));
  afterAll(() => rmSync(dir, { recursive: true }));
  /** An archive by Python's zipfile: packed and stored entries, and a comment. */
  function byPython(): Uint8Array {
    mkdirSync(path.join(dir, 'tex'), { recursive: true });
    for (const [name, text] of [
      ['tex/hull.dds', 'HULL '.repeat(500)],
      ['tex/deck.dds', 'x'],
      ['ship.ini', '[skin]\r\nfile=hull.dds\n'],
    ])
      writeFileSync(path.join(dir, name), text);
    const file = path.join(dir, 'a.bale');
    rmSync(file, { force: true });
    execFileSync('python3', [
      '-c',
      `import zipfile, sys
z = zipfile.ZipFile(sys.argv[1], 'w', zipfile.ZIP_DEFLATED)
z.comment = b'made elsewhere'
z.write(sys.argv[2] + '/tex/hull.dds', 'tex/hull.dds')
z.write(sys.argv[2] + '/tex/deck.dds', 'tex/deck.dds', zipfile.ZIP_STORED)
z.write(sys.argv[2] + '/ship.ini', 'ship.ini')
z.close()`,
      file,
      dir,
    ]);
    return new Uint8Array(readFileSync(file));
  }
  /** What Python's zipfile reads: names, times, methods, contents, and whether all sums are right. */
  function read(bytes: Uint8Array): { names: string[]; hull: string; comment: string; bad: string | null } {
    const file = path.join(dir, 'b.bale');
    writeFileSync(file, bytes);
    const out = execFileSync('python3', [
      '-c',
      `import zipfile, sys, json, hashlib
z = zipfile.ZipFile(sys.argv[1])
print(json.dumps({'names': [i.filename for i in z.infolist()], 'comment': z.comment.decode(), 'bad': z.testzip(),
  'hull': hashlib.sha256(b''.join(z.read(i) for i in z.infolist())).hexdigest()}))`,
      file,
    ]);
    return JSON.parse(out.toString()) as ReturnType<typeof read>;
  }
  test('a file is called otherwise; contents, order, comment and every other byte stay (read by Python’s zipfile)', () => {
    const zip = byPython();
    const was = read(zip);
    for (const to of ['tex/own_hull.dds', 'h', 'tex/Rümpf €.dds']) {
      const now = read(renameEntry(zip, 'tex/hull.dds', to));
      expect(now).toEqual({ ...was, names: [to, 'tex/deck.dds', 'ship.ini'] });
      // There and back again: the same bytes, but for the flag that says the name is in UTF-8.
      const back = renameEntry(renameEntry(zip, 'tex/hull.dds', to), to, 'tex/hull.dds');
      if (to.length === new TextEncoder().encode(to).length) expect(back).toEqual(zip);
    }
  });

  test('a file is left out and added; the others keep their bytes', () => {
    const zip = byPython();
    const less = removeEntry(zip, 'tex/deck.dds');
    expect(read(less)).toMatchObject({ names: ['tex/hull.dds', 'ship.ini'], bad: null, comment: 'made elsewhere' });
    const more = addEntry(less, 'tex/new.dds', strToU8('NEW'));
    expect(read(more)).toMatchObject({ names: ['tex/hull.dds', 'ship.ini', 'tex/new.dds'], bad: null });
    for (const name of ['tex/hull.dds', 'ship.ini']) expect(openZip(more).read(name)).toEqual(openZip(zip).read(name));
    let none = zip;
    for (const name of ['tex/hull.dds', 'tex/deck.dds', 'ship.ini']) none = removeEntry(none, name);
    expect(openZip(none).entries).toEqual([]);
    expect(() => addEntry(none, 'a', strToU8('a'))).toThrow(/empty/);
  });

  test('names that are taken, climb out, or are none are refused', () => {
    const zip = byPython();
    for (const to of ['tex/deck.dds', '../a.dds', '/a.dds', 'a/', '', 'a\\b', 'C:a', 'a\u0000b'])
      expect(() => renameEntry(zip, 'tex/hull.dds', to), to).toThrow(/cannot be the name|already/);
    expect(() => renameEntry(zip, 'none', 'a')).toThrow(/no "none"/);
    expect(() => removeEntry(zip, 'none')).toThrow(/no "none"/);
  });

  test('a damaged archive is refused or changed, never a crash', () => {
    const zip = byPython();
    fc.assert(
      fc.property(fc.nat(zip.length - 1), fc.integer({ min: 0, max: 255 }), (at, value) => {
        const bad = zip.slice();
        bad[at] = value;
        for (const change of [() => renameEntry(bad, 'tex/hull.dds', 'a'), () => removeEntry(bad, 'tex/hull.dds')])
          try {
            change();
          } catch (error) {
            expect(error).toBeInstanceOf(InputError);
          }
      }),
    );
  });
});
