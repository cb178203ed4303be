/** What the proof asks its worker, and what it does about findings. */
import { useEffect, useRef, useState, type RefObject } from 'react';
import type { ProofFinding, Remedy } from '@wet-lacquer/core/delivery/proof/finding.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { EaselDocument } from '../../easel/document.ts';
import { fitView } from '../../easel/flat/view.ts';
import { sentenceOf } from '../../lib/api.ts';
import type { Trial } from '../../workers/proofMessages.ts';
import type { ProofClient } from './cells.ts';
import { useProof } from './proofState.ts';

/** Says to the worker what is looked at, what is in view first. */
export function useAsked(client: ProofClient, livery: Livery, trials: Trial[]): void {
  const sheet = useProof((s) => s.sheet);
  const level = useProof((s) => s.level);
  const view = useProof((s) => s.view);
  useEffect(() => void client.ask('livery', { livery }).catch(() => {}), [client, livery]);
  useEffect(() => {
    const { x, y } = useProof.getState().view;
    void client.ask('look', { sheet, trials, level, x, y }).catch(() => {});
  }, [client, sheet, trials, level]);
  // What is in view comes first in what remains, too; asked a moment after the view rests.
  useEffect(() => {
    const timer = setTimeout(
      () => void client.ask('look', { sheet, trials, level, x: view.x, y: view.y }).catch(() => {}),
      120,
    );
    return () => clearTimeout(timer);
  }, [client, sheet, trials, level, view.x, view.y]);
}

/** Fits the view to so many panes side by side. @returns what holds them, and how wide that is */
export function usePanes(count: number, size: TemplateSheet): [RefObject<HTMLDivElement | null>, number] {
  const panes = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      setWidth(entry.contentRect.width);
      const old = useProof.getState().view;
      const next = { ...old, width: entry.contentRect.width / count, height: entry.contentRect.height - 36 };
      useProof.setState({ view: old.zoom === 0 ? fitView({ ...next, height: next.height + 56 }, size) : next });
    });
    watch.observe(panes.current!);
    return () => watch.disconnect();
  }, [count, size]);
  return [panes, width];
}

/** Shows what a finding speaks of, and does what it proposes. @returns also what is said of that */
export function useRemedies(doc: EaselDocument, client: ProofClient) {
  const show = (finding: ProofFinding) => {
    const { left, top, right, bottom } = finding.show!;
    const { view } = useProof.getState();
    const zoom = Math.min(view.width / (right - left), view.height / (bottom - top));
    useProof.setState({
      level: 0,
      onModel: false,
      view: { ...view, zoom: Math.min(16, zoom), x: (left + right) / 2, y: (top + bottom) / 2 },
    });
  };
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      if (event.shiftKey) doc.redo();
      else doc.undo();
      setSaid(null);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [doc]);
  const fix = ({ title }: ProofFinding, remedy: Remedy) => {
    setSaid(null);
    if ('format' in remedy) useProof.setState({ beside: remedy.format });
    else if ('edit' in remedy) {
      doc.commit(remedy.edit, title);
      setSaid('Done; Ctrl Z takes it back.');
    } else {
      setSaid('Looking for a better place …');
      client
        .ask('nudge', { layer: remedy.nudge, format: useProof.getState().format })
        .then((nudge) => {
          if (!nudge) return setSaid('It sits as well as anywhere within two texels.');
          doc.commit(nudge.edit, 'Nudge to the block grid');
          const less = Math.round((1 - nudge.after / nudge.before) * 100);
          setSaid(`Moved by ${nudge.x}, ${nudge.y} texels: ${less} % less error about it. Ctrl Z takes it back.`);
        })
        .catch((error: unknown) => setSaid(sentenceOf(error)));
    }
  };
  return { show, fix, said };
}
