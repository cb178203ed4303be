import { json, jsonParseLinter } from '@codemirror/lang-json';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { findNodeAtLocation, parseTree } from 'jsonc-parser';
import { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { CodeText } from '../../parts/CodeText.tsx';

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

const JSON_DOCUMENT = [
  json(),
  lintGutter(),
  linter(jsonParseLinter()),
  linter((editor) => problemsIn(editor.state.doc.toString())),
];

/** The document as text; what is wrong in it is marked while one types. */
export const SpecText = (props: { text: string; readOnly: boolean; onChange(text: string): void }) => (
  <CodeText label="The spec as text" extensions={JSON_DOCUMENT} {...props} />
);
