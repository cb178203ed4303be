import { useEasel } from '../easel/context.ts';
import { count } from '../lib/words.ts';
import { Notice } from '../parts/Notice.tsx';

/** The livery was taken back while it was open: what it shows is what it was. */
export function GoneBar() {
  const { doc } = useEasel();
  const gone = doc.use((s) => s.gone);
  const unsent = doc.use((s) => s.unsent);
  if (!gone) return null;
  return (
    <div style={{ padding: 6 }}>
      <Notice level="warning">
        This livery is not shared with you any more; nothing that you do here is kept.
        {unsent > 0 &&
          ` ${count(unsent, 'step')} had not been sent: they stay in this browser, in case it is shared again.`}
      </Notice>
    </div>
  );
}
