import { Checkbox, FormControlLabel, MenuItem } from '@mui/material';
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { INK } from '../../../theme.ts';
import { useTemplate } from '../../context.ts';
import { ownGuide, toggleGuide, useSession, useSessionOf } from '../../session.ts';
import { GUIDES, type Guide } from '../guides.ts';
import { useView } from '../view.ts';
import { FlatMenu, SlideItem, TickItem, type MenuProps } from './FlatMenu.tsx';

/** A sheet without a model has none of these. */
const OF_ISLANDS: readonly string[] = ['wire', 'seams', 'silhouette'];
const OUTLINE_ROLES = { frame: 'safe frame', collider: 'collider' };

/** The guides that there are for a sheet. */
export const guidesFor = (template: Template, sheet: TemplateSheet): readonly Guide[] => [
  ...GUIDES.filter(({ key }) => !template.boards || !OF_ISLANDS.includes(key)),
  { key: 'locator' as const, name: `Locator: ${template.boards ? 'cells' : 'islands'} by colour and number` },
  ...(sheet.cells ? [{ key: 'cells' as const, name: 'Atlas cells' }] : []),
  ...(sheet.boxes?.length ? [{ key: 'boxes' as const, name: 'Parameter boxes' }] : []),
  ...(template.outlines ?? [])
    .filter((outline) => outline.sheet === sheet.key)
    .map((outline) => ({ key: ownGuide(outline.key), name: `${outline.name}, ${OUTLINE_ROLES[outline.role]}` })),
  ...(template.begin?.[sheet.key]?.length ? [{ key: 'ghost' as const, name: 'Ghost of what it began with' }] : []),
  ...(template.guides ?? [])
    .filter((guide) => guide.sheet === sheet.key)
    .map((guide) => ({ key: ownGuide(guide.key), name: guide.name })),
];

/** Which guides are shown. */
export function GuidesMenu({ sheet, ...menu }: MenuProps & { sheet: TemplateSheet }) {
  const template = useTemplate();
  const { guides, ghost } = useSessionOf('guides', 'ghost');
  const zoom = useView((view) => view.zoom);
  return (
    <FlatMenu {...menu}>
      {guidesFor(template, sheet).map(({ key, name, fromZoom = 0 }) => (
        <TickItem key={key} label={name} checked={guides.has(key)} onClick={() => toggleGuide(key)}>
          {zoom < fromZoom && <span style={{ color: INK.quiet, marginLeft: 8 }}>from {fromZoom * 100} %</span>}
        </TickItem>
      ))}
      {guides.has('ghost') && (
        <SlideItem
          label="strength"
          name="Strength of the ghost"
          width={260}
          min={5}
          max={100}
          value={Math.round(ghost.strength * 100)}
          onChange={(value) => useSession.setState({ ghost: { ...ghost, strength: value / 100 } })}
        >
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={ghost.below}
                onChange={() => useSession.setState({ ghost: { ...ghost, below: !ghost.below } })}
              />
            }
            label="under the art"
          />
        </SlideItem>
      )}
      <MenuItem
        onClick={() =>
          useSession.setState({
            guides: guides.size > 0 ? new Set() : new Set(GUIDES.map((g) => g.key).filter((k) => k !== 'silhouette')),
          })
        }
      >
        {guides.size > 0 ? 'All off' : 'All on'}
      </MenuItem>
    </FlatMenu>
  );
}
