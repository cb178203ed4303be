/** A skin as a game and its tools might leave it, written by Python and Pillow alone. */
import { execFileSync } from 'node:child_process';

/** A skin of fifteen files in subfolders: every DDS kind with random blocks, TGAs and PNGs of many kinds, JPEGs; three copies in other light. */
const MAKE = `
import os, random, struct, sys
from PIL import Image, ImageFilter
random.seed(7)
def put(name, data):
    os.makedirs(os.path.dirname('skin/' + name), exist_ok=True)
    open('skin/' + name, 'wb').write(data)
def dds(side, block, fourcc, dxgi=None, mips=True, trailing=b''):
    levels = side.bit_length() if mips else 1
    top = (side // 4) ** 2 * block
    head = struct.pack('<4s7I44x', b'DDS ', 124, 0x1007 | 0x80000 | (0x20000 if mips else 0), side, side, top, 0, levels)
    head += struct.pack('<2I4s5I', 32, 4, b'DX10' if dxgi else fourcc, 0, 0, 0, 0, 0)
    head += struct.pack('<5I', 0x1000 | (0x400008 if mips else 0), 0, 0, 0, 0)
    # What the game's own tool left in the reserved words is nobody's business.
    head = head[:32] + b'MADE BY HAND' + head[44:]
    if dxgi: head += struct.pack('<5I', dxgi, 3, 0, 1, 0)
    body = b''
    for level in range(levels):
        n = max(1, (side >> level) // 4) ** 2
        for _ in range(n):
            b = bytearray(random.getrandbits(8) for _ in range(block))
            if dxgi == 98 or dxgi == 99:
                b[0] = 64 | (b[0] & 128)
            body += bytes(b)
    return head + body + trailing
put('body/bc1.dds', dds(128, 8, b'DXT1'))
put('body/bc2.dds', dds(128, 16, b'DXT3', trailing=b'tail of somebody'))
put('body/bc3.dds', dds(128, 16, b'DXT5', mips=False))
put('body/bc5.dds', dds(128, 16, b'ATI2'))
put('body/deep/bc7.dds', dds(128, 16, None, dxgi=98))
def art(mode, seed, side=128):
    random.seed(seed)
    small = Image.new('RGBA', (8, 8))
    for y in range(8):
        for x in range(8):
            small.putpixel((x, y), tuple(random.randrange(256) for _ in range(3)) + (random.choice([0, 90, 255, 255]),))
    return small.resize((side, side), Image.BICUBIC).convert(mode)
def save(name, im, kind, **how):
    os.makedirs(os.path.dirname('skin/' + name), exist_ok=True)
    im.save('skin/' + name, kind, **how)
save('hull/raw.tga', art('RGBA', 1), 'TGA', orientation=-1, id_section=b'by somebody')
save('hull/runs.tga', art('RGB', 2), 'TGA', compression='tga_rle', orientation=1)
save('hull/tin.png', art('RGBA', 3), 'PNG')
save('hull/flat.png', art('RGB', 4).quantize(40), 'PNG')
save('hull/photo.jpg', art('RGB', 5), 'JPEG', quality=83)
# Copies in another light, by known curves.
base = art('RGB', 6)
save('cloth/coat.png', base, 'PNG')
save('cloth/light/coat_wet.png', base.point([int(v * 0.55 + 0.5) for v in range(256)] * 3), 'PNG')
save('cloth/light/coat_dusk.png', base.point([int(v * k + 0.5) for k in (0.7, 0.6, 0.8) for v in range(256)]), 'PNG')
save('cloth/light/coat_soiled.png', base.point([int(20 + v * 0.7 + 0.5) for v in range(256)] * 3), 'PNG')
put('conf/skin.ini', b'[skin]\\r\\nname = "Old"\\r\\n')
put('conf/model.bin', bytes(random.getrandbits(8) for _ in range(999)))
`;

/** Writes the skin into `skin/` of a folder: sixteen files in six folders. */
export const makeForeignSkin = (folder: string): void =>
  void execFileSync('/usr/bin/python3', ['-c', MAKE], { cwd: folder });
