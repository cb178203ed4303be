import { Link } from 'react-router';
import type { ListingCard } from '@wet-lacquer/sync/exchange.ts';
import { dateInWords } from '../../lib/words.ts';
import { Grow, Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { ART, INK } from '../../theme.ts';

/** A skin with its picture, and whether it is in the game. */
export function SkinCard({ card }: { card: ListingCard }) {
  return (
    <li style={{ background: INK.panel, border: `1px solid ${INK.line}`, borderRadius: 2 }}>
      <Link to={`/exchange/${card.id}`} style={{ color: 'inherit', textDecoration: 'none', display: 'block' }}>
        <div style={{ aspectRatio: '560 / 360', background: ART.ground }}>
          {card.pictures > 0 && (
            <img
              src={`/api/exchange/${card.id}/${card.version}/pictures/0`}
              alt=""
              style={{ width: '100%', height: '100%', display: 'block', objectFit: 'cover' }}
            />
          )}
        </div>
        <div style={{ padding: '10px 12px' }}>
          <div style={{ fontWeight: 600, fontSize: 14, overflowWrap: 'anywhere' }}>{card.name}</div>
          <Quiet as="div">
            by {card.by}
            {card.crew && `, ${card.crew}`}
          </Quiet>
          <Quiet as="div">
            {card.subject} for {card.gameName}
          </Quiet>
          <Row gap={8} above={6}>
            <Swatches colours={card.colours} />
            <Grow />
            <Quiet small>
              {card.putIn === null
                ? `version ${card.version}, ${dateInWords(card.updatedAt)}`
                : card.putIn < card.version
                  ? `version ${card.putIn} is in the game; ${card.version} is here`
                  : 'in the game'}
            </Quiet>
          </Row>
        </div>
      </Link>
    </li>
  );
}

/** A skin's colours as a strip. */
export function Swatches({ colours }: { colours: readonly string[] }) {
  return (
    <span aria-hidden style={{ display: 'inline-flex' }}>
      {colours.slice(0, 8).map((hex) => (
        <span key={hex} style={{ width: 12, height: 12, background: hex, outline: `1px solid ${INK.edge}` }} />
      ))}
    </span>
  );
}
