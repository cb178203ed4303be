import { json, jsonParseLinter } from '@codemirror/lang-json';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { tags } from '@lezer/highlight';
import { basicSetup, EditorView } from 'codemirror';
import { useEffect, useRef } from 'react';
import { findNodeAtLocation, parseTree } from 'jsonc-parser';
import { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { INK, MONO } from '../../theme.ts';

/** What is wrong with a document, each where it stands in the text. */
function problemsIn(text: string): Diagnostic[] {
  const tree = parseTree(text);
  if (!tree) return [];
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    // The parser's own linter says where.
    return [];
  }
  const parsed = DeliverySpec.safeParse(value);
  if (parsed.success) return [];
  return parsed.error.issues.map((issue) => {
    const path = issue.path.map((part) => (typeof part === 'number' ? part : String(part)));
    let node = findNodeAtLocation(tree, path);
    for (let n = path.length - 1; !node && n >= 0; n--) node = findNodeAtLocation(tree, path.slice(0, n));
    const from = node?.offset ?? 0;
    return {
      from,
      to: from + Math.min(node?.length ?? 1, 200),
      severity: 'error',
      message: `${path.join('.') || 'The document'}: ${issue.message}`,
    };
  });
}

const look = EditorView.theme(
  {
    '&': { height: '100%', fontSize: '12px', background: INK.deep, color: INK.text },
    '.cm-scroller': { fontFamily: MONO, lineHeight: '1.5' },
    '.cm-gutters': { background: INK.panel, color: INK.quiet, border: 'none' },
    '.cm-activeLine, .cm-activeLineGutter': { background: INK.raised },
    '.cm-cursor': { borderLeftColor: INK.text },
    '&.cm-focused': { outline: `2px solid ${INK.accent}`, outlineOffset: '-2px' },
    '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { background: '#555555 !important' },
    '.cm-tooltip, .cm-panels': { background: INK.raised, color: INK.text, border: `1px solid ${INK.edge}` },
    '.cm-panels input, .cm-panels button': { color: INK.text, background: INK.deep },
  },
  { dark: true },
);
const colours = HighlightStyle.define([
  { tag: tags.propertyName, color: INK.text },
  { tag: tags.string, color: '#d3c7a8' },
  { tag: [tags.number, tags.bool, tags.null], color: '#9fd6cd' },
]);

/** The document as text; what is wrong in it is marked while one types. */
export function SpecText({
  text,
  readOnly,
  onChange,
}: {
  text: string;
  readOnly: boolean;
  onChange(text: string): void;
}) {
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
          json(),
          look,
          syntaxHighlighting(colours),
          lintGutter(),
          linter(jsonParseLinter()),
          linter((editor) => problemsIn(editor.state.doc.toString())),
          EditorState.readOnly.of(readOnly),
          EditorView.contentAttributes.of({ 'aria-label': 'The spec as text', tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [readOnly]);
  // What the form changed.
  useEffect(() => {
    const now = view.current?.state.doc.toString();
    if (now !== undefined && now !== text)
      view.current!.dispatch({ changes: { from: 0, to: now.length, insert: text } });
    first.current = text;
  }, [text]);
  return <div ref={host} style={{ height: '100%', minHeight: 0, overflow: 'hidden' }} />;
}
