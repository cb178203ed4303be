import { Button, Paper, Popper } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { capital } from '@wet-lacquer/core/capital.ts';
import { VIEWS, type View } from '@wet-lacquer/core/projectors/place.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Row, Stack } from '../../parts/layout.tsx';
import { Section } from '../../parts/Section.tsx';
import { Slide } from '../../parts/Slide.tsx';
import type { Stage } from '../../parts/stage.ts';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { useTemplate } from '../context.ts';
import { PhotoSection } from './PhotoSection.tsx';
import { leaveAway, SECTIONS, showWhole, useModelView } from './modelView.ts';

/** From where the model is looked at, and what of it is shown. */
export function ViewPanel({ stage }: { stage: Stage | null }) {
  const template = useTemplate();
  const { parallel, section, hidden, keepsOff } = useModelView();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const button = useRef<HTMLButtonElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (at) panel.current?.focus({ preventScroll: true });
  }, [at]);
  const close = () => {
    setAt(null);
    button.current?.focus();
  };
  const parts = useMemo(() => template.parts.filter(({ count }) => count > 0), [template]);
  const changed = parallel || section !== null || hidden.size > 0;
  return (
    <>
      <Button
        sx={{
          background: changed ? INK.accentDeep : INK.panel,
          ...{ minHeight: 26, py: '1px', px: 1, minWidth: 0, pointerEvents: 'auto' },
        }}
        aria-haspopup="dialog"
        disabled={!stage}
        aria-expanded={at !== null}
        ref={button}
        onClick={() => (at ? close() : setAt(button.current!.closest('section')))}
      >
        View
      </Button>
      <Popper
        anchorEl={at}
        open={at !== null}
        placement="right-start"
        // Beside the model, which goes on being turned and painted while it is open.
        style={{ zIndex: 1200 }}
      >
        <Paper
          ref={panel}
          role="dialog"
          aria-label="View of the model"
          tabIndex={-1}
          elevation={8}
          onKeyDown={(event) => event.key === 'Escape' && close()}
          sx={{ p: 1.5, width: 300, maxHeight: 'calc(100vh - 60px)', overflowY: 'auto' }}
        >
          <Row below={8}>
            <h2 style={{ fontSize: 13, fontWeight: 600, margin: 0, flex: 1 }}>View of the model</h2>
            <Button size="small" onClick={close}>
              Close
            </Button>
          </Row>
          <Stack columns="repeat(4, minmax(0, 1fr))" gap={4}>
            {Object.entries(VIEWS).map(([name, direction], i) => (
              <Button
                key={name}
                size="small"
                sx={{ minWidth: 0, px: 0.5 }}
                title={`Key ${i + 1}`}
                onClick={() => stage?.lookFrom(direction)}
              >
                {capital(name)}
              </Button>
            ))}
            <Button size="small" sx={{ minWidth: 0, px: 0.5 }} title="Key 0" onClick={() => stage?.home()}>
              Bow ¾
            </Button>
            <Button size="small" sx={{ minWidth: 0, px: 0.5 }} onClick={() => stage?.frame(null)}>
              All of it
            </Button>
          </Stack>
          <Row above={8}>
            <Tick
              label="Without perspective (O)"
              checked={parallel}
              onChange={(next) => useModelView.setState({ parallel: next })}
            />
          </Row>
          <Section title="Cut open">
            <Choice<View | 'none'>
              label="without"
              value={section?.side ?? 'none'}
              options={[
                { value: 'none', label: 'nothing: it is whole' },
                ...Object.entries(SECTIONS).map(([value, label]) => ({ value: value as View, label })),
              ]}
              onChange={(side) =>
                useModelView.setState({ section: side === 'none' ? null : { side, at: section?.at ?? 0.5 } })
              }
            />
            {section && (
              <Slide
                label="leaves"
                unit="%"
                value={Math.round(section.at * 100)}
                min={1}
                max={100}
                onShow={(value) =>
                  value !== null && useModelView.setState({ section: { ...section, at: value / 100 } })
                }
                onCommit={(value) => useModelView.setState({ section: { ...section, at: value / 100 } })}
              />
            )}
          </Section>
          <PhotoSection />
          <Section title="Parts">
            <ul
              aria-label="Parts of the model"
              style={{
                ...{ maxHeight: 190, overflowY: 'auto', border: `1px solid ${INK.line}` },
                ...{ padding: '0 6px', margin: 0, listStyle: 'none' },
              }}
            >
              {parts.map(({ key, name }) => (
                <li key={key}>
                  <Row gap={4}>
                    <span style={{ flex: 1, minWidth: 0 }}>
                      <Tick label={name} checked={!hidden.has(key)} onChange={(shown) => leaveAway(key, !shown)} />
                    </span>
                    <Button
                      size="small"
                      sx={{ minWidth: 0 }}
                      aria-label={`Bring ${name} near`}
                      onClick={() => stage?.frame(new Set([key]))}
                    >
                      Near
                    </Button>
                  </Row>
                </li>
              ))}
            </ul>
            <Tick
              label="Brushes keep off what is left away"
              checked={keepsOff}
              onChange={(next) => useModelView.setState({ keepsOff: next })}
            />
            <Button size="small" disabled={hidden.size === 0 && section === null} onClick={showWhole}>
              Show all of it
            </Button>
            <Quiet as="p" small>
              Over the model: F brings the part under the pointer near, H leaves it away, Shift H shows all again.
            </Quiet>
          </Section>
        </Paper>
      </Popper>
    </>
  );
}
