/** Where a mark is seen, and how it stands there. */
export interface MarkPlace {
  /** Texels. */
  x: number;
  y: number;
  /** Degrees clockwise that set it upright on the model, -180..180. */
  turn: number;
  /** How far there is room around it, texels. */
  radius: number;
  /** The art is seen backwards there. */
  mirrored: boolean;
}
