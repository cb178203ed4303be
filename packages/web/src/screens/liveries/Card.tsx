import { IconButton, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { Row } from '../../parts/layout.tsx';
import { count, dateInWords } from '../../lib/words.ts';
import { Pip } from '../../parts/Pip.tsx';
import { notThere, sendLeft } from '../../easel/unsent.ts';
import { useMe } from '../../people/me.ts';
import { ShareDialog } from '../../people/ShareDialog.tsx';
import { ART, INK } from '../../theme.ts';
import { DotsHorizontal } from '../../parts/icons.tsx';

/** A livery with its picture on the turntable, and how far its sheets are. */
interface Props {
  card: LiveryCard;
  /** It is in the line-up. */
  chosen: boolean;
  onChoose(): void;
  onBin(): void;
}

export function Card({ card, chosen, onChoose, onBin }: Props) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [sharing, setSharing] = useState(false);
  const { me } = useMe();
  const looks = card.role === 'look';
  return (
    <li style={{ background: INK.panel, border: `1px solid ${INK.line}`, borderRadius: 2, position: 'relative' }}>
      <Link
        to={looks ? `/look/${card.id}` : `/liveries/${card.id}`}
        style={{ color: 'inherit', textDecoration: 'none', display: 'block' }}
      >
        <img
          src={`/api/liveries/${card.id}/picture/${card.revision}`}
          alt=""
          width={560}
          height={360}
          style={{ width: '100%', height: 'auto', display: 'block', background: ART.ground, aspectRatio: '560 / 360' }}
        />
        <div style={{ padding: '10px 12px 2px 12px' }}>
          <div style={{ fontWeight: 600, fontSize: 14 }}>{card.name}</div>
          <Quiet as="div">
            {card.template} for {card.game}
          </Quiet>
        </div>
      </Link>
      <Row gap={12} wrap pad="6px 12px 10px">
        {card.sheets.map((sheet) => (
          <span key={sheet.key} style={{ display: 'inline-flex', gap: 5, alignItems: 'center' }}>
            <Pip state={sheet.state} name={sheet.name} />
            <span aria-hidden>{sheet.name}</span>
          </span>
        ))}
        <span style={{ marginLeft: 'auto', color: INK.quiet }}>
          {card.role !== 'own' && <span style={{ color: INK.text }}>shared with you </span>}
          {card.lastDelivery ? `delivered ${dateInWords(card.lastDelivery)}` : 'not delivered yet'}
        </span>
      </Row>
      {!looks && (
        <label
          style={{
            position: 'absolute',
            left: 6,
            top: 6,
            width: 28,
            height: 28,
            display: 'grid',
            placeItems: 'center',
            background: INK.panel,
            borderRadius: 2,
            cursor: 'pointer',
          }}
        >
          <input
            type="checkbox"
            checked={chosen}
            onChange={onChoose}
            aria-label={`Choose ${card.name} for a line-up`}
            style={{ width: 16, height: 16, margin: 0, accentColor: INK.accent }}
          />
        </label>
      )}
      {!looks && (
        <IconButton
          aria-label={`More for ${card.name}`}
          onClick={(event) => setMenu(event.currentTarget)}
          sx={{ position: 'absolute', right: 6, top: 6, background: INK.panel, '&:hover': { background: INK.line } }}
        >
          <DotsHorizontal fontSize="small" />
        </IconButton>
      )}
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        <MenuItem component={Link} to={`/liveries/${card.id}/onto`}>
          Take onto another model
        </MenuItem>
        <SaveBundle id={card.id} onDone={() => setMenu(null)} />
        {me?.signIn && card.role === 'own' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setSharing(true);
            }}
          >
            Share
          </MenuItem>
        )}
        {card.role === 'own' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              onBin();
            }}
          >
            Put into the bin
          </MenuItem>
        )}
      </Menu>
      {sharing && <ShareDialog kind="livery" object={card.id} name={card.name} onClose={() => setSharing(false)} />}
    </li>
  );
}

/** Saves a bundle once everything that this browser holds of the livery is in it, or says that it is not. */
function SaveBundle({ id, onDone }: { id: string; onDone(): void }) {
  const [left, setLeft] = useState(0);
  const save = () => {
    location.assign(`/api/liveries/${id}/bundle`);
    onDone();
  };
  const ask = async () => {
    const unsent = await sendLeft(id).catch(() => notThere(id));
    if (unsent === 0) save();
    else setLeft(unsent);
  };
  return left > 0 ? (
    <MenuItem onClick={save}>
      {count(left, 'step')} {left === 1 ? 'is' : 'are'} not saved yet: save without
    </MenuItem>
  ) : (
    <MenuItem onClick={() => void ask()}>Save as a bundle</MenuItem>
  );
}
