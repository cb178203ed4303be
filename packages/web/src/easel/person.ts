/** Who somebody is while nobody signs in: every window of one browser is one person. */
function ofBrowser(): string {
  const known = localStorage.getItem('wet-lacquer/person');
  if (known) return known;
  const made = crypto.randomUUID();
  localStorage.setItem('wet-lacquer/person', made);
  return made;
}

/** This window, among those in which somebody has a livery open. */
export const thisWindow: string = crypto.randomUUID();

let signedIn: string | null = null;

/** Somebody has signed in; null: nobody signs in here. */
export function bePerson(id: string | null): void {
  signedIn = id;
}

/** Who makes steps here, for undo. */
export const person = (): string => signedIn ?? ofBrowser();
