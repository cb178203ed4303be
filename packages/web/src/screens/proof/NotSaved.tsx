import type { EaselDocument } from '../../easel/document.ts';
import { Notice } from '../../parts/Notice.tsx';

/** Steps that the server does not have are in what is proofed, and in no delivery. */
export function NotSaved({ doc }: { doc: EaselDocument }) {
  const unsent = doc.use((s) => s.unsent);
  const trouble = doc.use((s) => s.trouble);
  if (!trouble || unsent === 0) return null;
  return (
    <div style={{ padding: 6 }}>
      <Notice level="warning">
        <strong>
          {unsent} {unsent === 1 ? 'step is' : 'steps are'} not saved yet.
        </strong>{' '}
        The proof shows {unsent === 1 ? 'it' : 'them'}; a delivery would lack {unsent === 1 ? 'it' : 'them'}. {trouble}
      </Notice>
    </div>
  );
}
