/** Our decoders against Chromium's WebGL: its own implementation of the compressed formats, here in software. */
import { decodeImage } from '../packages/core/src/texture/encode.ts';
import { FORMATS, rowBytes, rowsOf, type FormatKey } from '../packages/core/src/texture/formats/index.ts';
import { randomFrom } from '../packages/core/src/testing/images.ts';
import { expect, test } from './fixture.ts';

const SIDE = 256;

/** Extension, its constant, and how many of 255 a texel may differ: mixes of BC1 to BC5 are not fixed to the bit. */
const CASES: readonly [FormatKey, string, string, number][] = [
  ['bc1a', 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT1_EXT', 1],
  ['bc2', 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT3_EXT', 1],
  ['bc3', 'WEBGL_compressed_texture_s3tc', 'COMPRESSED_RGBA_S3TC_DXT5_EXT', 1],
  ['bc4', 'EXT_texture_compression_rgtc', 'COMPRESSED_RED_RGTC1_EXT', 1],
  ['bc5', 'EXT_texture_compression_rgtc', 'COMPRESSED_RED_GREEN_RGTC2_EXT', 1],
  ['bc7', 'EXT_texture_compression_bptc', 'COMPRESSED_RGBA_BPTC_UNORM_EXT', 0],
];

for (const [format, extension, constant, slack] of CASES) {
  test(
    `${format}: 4096 random blocks are within ${slack} of what WebGL samples`,
    { tag: '@model' },
    async ({ page }) => {
      await page.goto('/mark.svg');
      const random = randomFrom(format.charCodeAt(2));
      const bytes = Uint8Array.from({ length: rowsOf(FORMATS[format], SIDE) * rowBytes(FORMATS[format], SIDE) }, () =>
        Math.floor(random() * 256),
      );
      // Blocks of random bits are nearly all of BC7's lowest modes: every mode as often as the others.
      if (format === 'bc7') {
        for (let block = 0; block * 16 < bytes.length; block++) {
          const mode = block % 8;
          bytes[block * 16] = (bytes[block * 16] & ~((2 << mode) - 1)) | (1 << mode);
        }
      }
      const theirs = await page.evaluate(
        ([data, side, name, kind]) => {
          const gl = new OffscreenCanvas(side, side).getContext('webgl2')!;
          const known = gl.getExtension(name) as Record<string, number> | null;
          if (!known) throw new Error(`no ${name}`);
          const shader = (type: number, source: string) => {
            const made = gl.createShader(type)!;
            gl.shaderSource(made, source);
            gl.compileShader(made);
            return made;
          };
          const program = gl.createProgram();
          const vertex = `#version 300 es
          void main() { gl_Position = vec4(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0, 0.0, 1.0); }`;
          const fragment = `#version 300 es
          precision highp float; uniform sampler2D t; out vec4 c;
          void main() { c = texelFetch(t, ivec2(gl_FragCoord.xy), 0); }`;
          gl.attachShader(program, shader(gl.VERTEX_SHADER, vertex));
          gl.attachShader(program, shader(gl.FRAGMENT_SHADER, fragment));
          gl.linkProgram(program);
          gl.useProgram(program);
          gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
          gl.compressedTexImage2D(gl.TEXTURE_2D, 0, known[kind], side, side, 0, Uint8Array.from(data));
          gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
          // A target of its own: the canvas would be premultiplied.
          gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
          const target = gl.createRenderbuffer();
          gl.bindRenderbuffer(gl.RENDERBUFFER, target);
          gl.renderbufferStorage(gl.RENDERBUFFER, gl.RGBA8, side, side);
          gl.framebufferRenderbuffer(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.RENDERBUFFER, target);
          gl.viewport(0, 0, side, side);
          gl.drawArrays(gl.TRIANGLES, 0, 3);
          const out = new Uint8Array(side * side * 4);
          gl.readPixels(0, 0, side, side, gl.RGBA, gl.UNSIGNED_BYTE, out);
          if (gl.getError() !== 0) throw new Error('WebGL refused');
          return [...out];
        },
        [[...bytes], SIDE, extension, constant] as const,
      );
      const ours = decodeImage(bytes, format, SIDE, SIDE).data;
      let worst = 0;
      for (let i = 0; i < ours.length; i++) worst = Math.max(worst, Math.abs(ours[i] - theirs[i]));
      expect(worst).toBeLessThanOrEqual(slack);
    },
  );
}
