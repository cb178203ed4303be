import { useEffect, useRef, useState } from 'react';

export interface Draft {
  draft: string;
  setDraft(draft: string): void;
  /** The field is written in from now on: what comes from elsewhere waits. */
  begin(): void;
  /** The field is left. @returns whether it holds what nobody has taken: Enter may have done it, and it has not arrived yet */
  leave(): boolean;
  /** Says what was taken. */
  took(draft: string): void;
}

/** What is written in a field until it is taken; it follows what is shown while nobody writes in it. */
export function useDraft(shown: string): Draft {
  const [draft, setDraft] = useState(shown);
  const editing = useRef(false);
  const taken = useRef<string | null>(null);
  useEffect(() => {
    taken.current = null;
    if (!editing.current) setDraft(shown);
  }, [shown]);
  return {
    draft,
    setDraft,
    begin: () => void (editing.current = true),
    leave() {
      editing.current = false;
      return draft !== shown && draft !== taken.current;
    },
    took: (said) => void (taken.current = said),
  };
}
