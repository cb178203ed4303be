import type { MeshData } from '../../livery/template.ts';

/** Works corners out from one to another of them, numbers of a corner beside one another; any piece by itself gives the same. */
export type Baker = (from: number, to: number) => Float32Array;

/** Something that is worked out once at the corners of a model, evenly between them. */
export interface BakedField {
  /** As a sentence goes on after "shows": "in hollows". */
  shows: string;
  /**
   * Begins to work out values of 0..1 at corners of a mesh that is fine enough; see refined(). The same on every machine.
   * @param coarse the same surface in as few triangles as it came
   */
  begin(mesh: MeshData, coarse: MeshData): Baker;
}
