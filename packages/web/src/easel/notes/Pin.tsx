import './notes.css';

interface Props {
  number: number | null;
  /** Read aloud, and shown beside the pointer. */
  called: string;
  done?: boolean;
  chosen?: boolean;
  /** It lies behind something. */
  behind?: boolean;
  /** Pixels, or shares of what it lies on. */
  at: { x: number | string; y: number | string };
  /** What turns it back upright. */
  upright?: string;
  onPress?(): void;
}

/** From the place that is meant, around it, to the tag. */
const WAY = 'M13.5 26.5L22 16M5 30a5 5 0 1 0 10 0a5 5 0 1 0-10 0';

/** A place with a tag on a line: the ring is around what is meant, and nothing covers it. */
export function Pin({ number, called, done, chosen, behind, at, upright, onPress }: Props) {
  const is = ['note-pin', chosen && 'chosen', done && 'done', behind && 'behind'].filter(Boolean).join(' ');
  return (
    <div className={is} style={{ left: at.x, top: at.y, transform: upright }}>
      <svg aria-hidden width={32} height={40}>
        <path d={WAY} className="casing" />
        <path d={WAY} className="line" />
      </svg>
      {onPress ? (
        <button
          type="button"
          className="tag"
          aria-label={called}
          title={called}
          aria-pressed={chosen}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={onPress}
        >
          {number}
        </button>
      ) : (
        <span className="tag">{number ?? '…'}</span>
      )}
    </div>
  );
}
