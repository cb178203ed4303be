/** Who this browser is, for undo: every window of one browser is one person. */
export function person(): string {
  const known = localStorage.getItem('wet-lacquer/person');
  if (known) return known;
  const made = crypto.randomUUID();
  localStorage.setItem('wet-lacquer/person', made);
  return made;
}
