import { Button, Divider, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Explained } from '../../parts/Explained.tsx';
import { LIGHTS, type LightPreset } from '../../parts/lamps.ts';
import type { Stage } from '../../parts/stage.ts';
import { INK } from '../../theme.ts';
import { useSession } from '../session.ts';
import { useTemplate } from '../context.ts';
import { SHOWS, showsOf } from '../shows.ts';
import { setModelRests } from './rest.tsx';
import { ViewPanel } from './ViewPanel.tsx';

/** What lies along the foot of the model: its light, what is shown of it, from where, and the part that is pointed at. */
export function TurntableBar({
  stage,
  light,
  spinning,
  part,
  onLight,
  onSpin,
}: {
  stage: Stage | null;
  light: LightPreset;
  spinning: boolean;
  part: string | null | undefined;
  onLight(light: LightPreset): void;
  onSpin(): void;
}) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  return (
    <>
      <div
        style={{ position: 'absolute', left: 8, right: 8, bottom: 8, display: 'flex', gap: 6, pointerEvents: 'none' }}
      >
        <Button
          sx={{ background: INK.panel, minHeight: 26, py: '1px', px: 1, pointerEvents: 'auto' }}
          aria-haspopup="true"
          onClick={(event) => setMenu(event.currentTarget)}
        >
          {light}
        </Button>
        <ShowsMenu />
        <ViewPanel stage={stage} />
        <Button
          sx={{
            background: spinning ? INK.accentDeep : INK.panel,
            minHeight: 26,
            py: '1px',
            px: 1,
            minWidth: 0,
            pointerEvents: 'auto',
          }}
          aria-pressed={spinning}
          onClick={onSpin}
        >
          Spin
        </Button>
        <Button
          sx={{ background: INK.panel, minHeight: 26, py: '1px', px: 1, minWidth: 0, pointerEvents: 'auto' }}
          title="The model is not drawn: more of the machine is left for the sheet"
          onClick={() => setModelRests(true)}
        >
          Rest
        </Button>
        {part && <PartName name={part} />}
      </div>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {LIGHTS.map((preset) => (
          <MenuItem
            key={preset}
            selected={preset === light}
            onClick={() => {
              onLight(preset);
              setMenu(null);
            }}
          >
            {preset}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem disabled={light === 'Unlit'} onClick={() => stage?.turnLight(45)}>
          <Explained name="Carry the lamps round by 45°" what="On the model: Alt and drag, or L" />
        </MenuItem>
      </Menu>
    </>
  );
}

/** What of the surface is shown, here and on the sheet. */
function ShowsMenu() {
  const template = useTemplate();
  const shows = useSession((s) => s.shows);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const { name } = SHOWS.find(({ key }) => key === shows)!;
  return (
    <>
      <Button
        sx={{
          background: shows === 'paint' ? INK.panel : INK.accentDeep,
          ...{ minHeight: 26, py: '1px', px: 1, minWidth: 0, pointerEvents: 'auto' },
        }}
        aria-haspopup="true"
        aria-label={`Shows: ${name}`}
        onClick={(event) => setMenu(event.currentTarget)}
      >
        {name}
      </Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {showsOf(template).map(({ key, says }) => (
          <MenuItem
            key={key}
            selected={key === shows}
            onClick={() => {
              useSession.setState({ shows: key });
              setMenu(null);
            }}
          >
            {says}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** The part that is pointed at. */
function PartName({ name }: { name: string }) {
  return (
    <output
      aria-label="Part"
      style={{
        marginLeft: 'auto',
        background: INK.panel,
        border: `1px solid ${INK.edge}`,
        borderRadius: 2,
        padding: '3px 8px',
        whiteSpace: 'nowrap',
        overflow: 'hidden',
        textOverflow: 'ellipsis',
      }}
    >
      {name}
    </output>
  );
}
