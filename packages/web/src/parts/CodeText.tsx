import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState, type Extension } from '@codemirror/state';
import { tags } from '@lezer/highlight';
import { basicSetup, EditorView } from 'codemirror';
import { useEffect, useRef } from 'react';
import { INK, MONO } from '../theme.ts';

const look = EditorView.theme(
  {
    '&': { height: '100%', fontSize: '12px', background: INK.deep, color: INK.text },
    '.cm-scroller': { fontFamily: MONO, lineHeight: '1.5' },
    '.cm-gutters': { background: INK.panel, color: INK.quiet, border: 'none' },
    '.cm-activeLine, .cm-activeLineGutter': { background: INK.raised },
    '.cm-cursor': { borderLeftColor: INK.text },
    '&.cm-focused': { outline: `2px solid ${INK.accent}`, outlineOffset: '-2px' },
    '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { background: `${INK.marked} !important` },
    '.cm-tooltip, .cm-panels': { background: INK.raised, color: INK.text, border: `1px solid ${INK.edge}` },
    '.cm-panels input, .cm-panels button': { color: INK.text, background: INK.deep },
  },
  { dark: true },
);
const colours = HighlightStyle.define([
  { tag: tags.propertyName, color: INK.text },
  { tag: tags.string, color: INK.word },
  { tag: [tags.number, tags.bool, tags.null], color: INK.number },
]);

const NONE: Extension = [];

interface Props {
  label: string;
  text: string;
  readOnly?: boolean;
  /** Language and checks; always the same ones. */
  extensions?: Extension;
  onChange(text: string): void;
}

/** A text of many lines with numbers and search; line ends are plain here. */
export function CodeText({ label, text, readOnly = false, extensions = NONE, onChange }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef(onChange);
  const first = useRef(text);
  useEffect(() => {
    latest.current = onChange;
  }, [onChange]);
  useEffect(() => {
    const made = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          basicSetup,
          extensions,
          look,
          syntaxHighlighting(colours),
          EditorState.readOnly.of(readOnly),
          EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [readOnly, extensions, label]);
  // What was changed elsewhere.
  useEffect(() => {
    const now = view.current?.state.doc.toString();
    if (now !== undefined && now !== text)
      view.current!.dispatch({ changes: { from: 0, to: now.length, insert: text } });
    first.current = text;
  }, [text]);
  return <div ref={host} style={{ height: '100%', minHeight: 0, overflow: 'hidden' }} />;
}
