import type { ReactNode } from 'react';
import { INK } from '../theme.ts';
import { Row } from './layout.tsx';

/** What is asked or said over the head of a view, with what can be done about it. @param top pixels that something else has above it */
export const OverBar = ({ top = 8, children }: { top?: number; children: ReactNode }) => (
  <div style={{ position: 'absolute', left: 8, right: 8, top, background: INK.panel, padding: '4px 8px' }}>
    <Row gap={8} wrap role="status">
      {children}
    </Row>
  </div>
);
