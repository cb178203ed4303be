/** Keys by the names that the interface shows: "Ctrl D", "Shift F2", "P". */
interface Pressed {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
  shiftKey: boolean;
}

const NAMES: Record<string, string> = { ' ': 'Space', '=': '+' };

/** What was pressed. Shift is named only where it does not show in the character itself. */
export function keyName(event: Pressed): string {
  const { key } = event;
  const letter = /^[a-z]$/i.test(key);
  const name = NAMES[key] ?? (letter ? key.toUpperCase() : key);
  const held = [
    event.ctrlKey || event.metaKey ? 'Ctrl' : '',
    event.altKey ? 'Alt' : '',
    event.shiftKey && (letter || key.length > 1) ? 'Shift' : '',
  ];
  return [...held, name].filter(Boolean).join(' ');
}

const WRITING = 'input:not([type=checkbox]):not([type=radio]):not([type=range]), textarea, [contenteditable]';

/** Whether a key belongs to a field that is written in, a dialog or a menu. */
export const isTaken = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest(`${WRITING}, [role="dialog"], [role="menu"], [role="listbox"]`) !== null;
