import type { MeshData } from '../../livery/template.ts';

/** Something that is worked out once at the corners of a model, evenly between them. */
export interface BakedField {
  /** As a sentence goes on after "shows": "in hollows". */
  shows: string;
  /**
   * Values of 0..1 at each corner of a mesh that is fine enough; see refined(). The same on every machine.
   * @param coarse the same surface in as few triangles as it came
   */
  bake(mesh: MeshData, coarse: MeshData): Float32Array;
}
