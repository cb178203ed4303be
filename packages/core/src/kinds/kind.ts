/** What there is to know of a kind of file before it is read. */
export interface FileKindData {
  /** As people call it: "DDS". */
  name: string;
  /** What it can become: a texture with its texels, an image of layers, a model, names of a model's textures, a drawing, other files. */
  is: 'texture' | 'layered' | 'model' | 'materials' | 'drawing' | 'archive';
  /** Of files' names, without the dot; none: nobody promises it by a name. */
  endings: readonly string[];
  /** Whether the bytes begin as such a file does; left out: they have no mark, and the name says it. */
  begins?(bytes: Uint8Array): boolean;
}

/** Whether a file begins with these characters, one byte each. */
export const beginsWith = (bytes: Uint8Array, mark: string, at = 0): boolean =>
  bytes.length >= at + mark.length && [...mark].every((c, i) => bytes[at + i] === c.charCodeAt(0));
