/** The faces that come with the product for lettering, all under open licences (SIL Open Font License 1.1 or Apache 2.0). */
export interface ShippedFont {
  readonly key: string;
  readonly name: string;
  /** What it is good for, in a word. */
  readonly kind: string;
  /** Package and weight that its file comes from. */
  readonly package: string;
  readonly weight: number;
}

const font = (key: string, name: string, kind: string, weight = 400, from = key): ShippedFont => ({
  key,
  name,
  kind,
  package: from,
  weight,
});

export const SHIPPED_FONTS: readonly ShippedFont[] = [
  font('barlow-condensed', 'Barlow Condensed', 'condensed', 600),
  font('barlow', 'Barlow', 'plain', 700),
  font('anton', 'Anton', 'condensed, heavy'),
  font('archivo-black', 'Archivo Black', 'wide, heavy'),
  font('big-shoulders-display', 'Big Shoulders', 'tall', 800),
  font('bungee', 'Bungee', 'block'),
  font('chakra-petch', 'Chakra Petch', 'technical', 700),
  font('graduate', 'Graduate', 'block numbers'),
  font('michroma', 'Michroma', 'wide'),
  font('roboto-slab', 'Roboto Slab', 'slab', 800),
  font('russo-one', 'Russo One', 'block numbers'),
  font('saira-stencil-one', 'Saira Stencil One', 'stencil'),
  font('staatliches', 'Staatliches', 'signboard'),
  font('yellowtail', 'Yellowtail', 'script'),
];
