import { Button } from '@mui/material';
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import { OverBar } from '../../parts/OverBar.tsx';
import type { Stage } from '../../parts/stage.ts';
import { ART } from '../../theme.ts';
import { count } from '../../lib/words.ts';
import { useEasel, useLivery } from '../context.ts';
import { Cased } from '../flat/Cased.tsx';
import { onCanvas, useMoved } from './handles.tsx';
import { cameraOf, leavePhoto, matchPlace, photosOf, usePhoto, type Photo } from './photo.ts';

/** The photo over the model while it is looked through or matched. */
export function PhotoOver({ stage }: { stage: Stage }) {
  const livery = useLivery();
  const { through, matching } = usePhoto();
  const photo = photosOf(livery.references).find(({ id }) => id === (matching?.photo ?? through));
  const camera = photo && !matching ? cameraOf(photo) : null;
  useEffect(() => {
    stage.seeThrough(camera && { ...camera, ratio: photo!.width / photo!.height });
    return () => stage.seeThrough(null);
  }, [stage, camera, photo]);
  if (!photo) return null;
  return matching ? <Matching key={photo.id} {...{ stage, photo }} /> : <Through photo={photo} />;
}

const FILLS = { position: 'absolute', inset: 0, width: '100%', height: '100%' } as const;

const pictureOf = ({ blob }: Photo) => `/api/blobs/${blob}/picture`;

function Through({ photo }: { photo: Photo }) {
  const strength = usePhoto((s) => s.strength);
  return (
    <>
      <img
        src={pictureOf(photo)}
        alt={`Photo ${photo.name} over the model`}
        style={{ ...FILLS, objectFit: 'contain', opacity: strength, pointerEvents: 'none' }}
      />
      <OverBar>
        <span>Through {photo.name}</span>
        <Button size="small" onClick={leavePhoto}>
          Leave the photo
        </Button>
      </OverBar>
    </>
  );
}

function Matching({ stage, photo }: { stage: Stage; photo: Photo }) {
  const { doc } = useEasel();
  const place = usePhoto((s) => s.matching?.place ?? null);
  const picture = useRef<HTMLButtonElement>(null);
  useMoved(stage);
  useEffect(() => {
    if (place) picture.current?.focus();
  }, [place]);
  const camera = cameraOf(photo);
  const press = (event: MouseEvent<HTMLButtonElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    // By keyboard there is no place: it is pressed with a pointer.
    if (event.detail === 0) return;
    const fit = Math.min(box.width / photo.width, box.height / photo.height);
    const [w, h] = [photo.width * fit, photo.height * fit];
    const x = (event.clientX - box.left - (box.width - w) / 2) / w;
    const y = (event.clientY - box.top - (box.height - h) / 2) / h;
    if (x >= 0 && x <= 1 && y >= 0 && y <= 1) matchPlace(doc, photo, x, y);
  };
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    usePhoto.setState({ matching: { photo: photo.id, place: null } });
  };
  const known = photo.pairs.length;
  return (
    <>
      {place ? (
        <button
          ref={picture}
          type="button"
          aria-label={`The photo ${photo.name}: press on the same place`}
          onClick={press}
          onKeyDown={key}
          style={{ ...FILLS, padding: 0, border: 0, background: ART.stage, cursor: 'crosshair' }}
        >
          <img src={pictureOf(photo)} alt="" style={{ ...FILLS, objectFit: 'contain' }} />
        </button>
      ) : (
        <Places {...{ stage, photo }} />
      )}
      <OverBar>
        <span data-testid="matching">
          {place ? 'Now the same place in the photo.' : `Press on place ${known + 1} of the model.`}{' '}
          {camera
            ? `Off by ${(camera.off * 100).toFixed(1)} % of its height.`
            : `${count(known, 'place')} of four or more.`}
        </span>
        <Button
          size="small"
          disabled={known === 0}
          onClick={() =>
            doc.commit(
              { do: 'move-reference', reference: photo.id, set: { pairs: photo.pairs.slice(0, -1) } },
              `Take a place of ${photo.name} back`,
            )
          }
        >
          Take back
        </Button>
        <Button size="small" onClick={() => usePhoto.setState({ matching: null, through: camera ? photo.id : null })}>
          {camera ? 'Look through' : 'Leave it'}
        </Button>
      </OverBar>
    </>
  );
}

/** The places that are known already, on the model. */
function Places({ stage, photo }: { stage: Stage; photo: Photo }) {
  const [paper, setPaper] = useState<SVGSVGElement | null>(null);
  const size = paper?.getBoundingClientRect();
  return (
    <svg ref={setPaper} style={{ ...FILLS, pointerEvents: 'none' }}>
      {size &&
        photo.pairs.map(({ place }, i) => {
          const at = onCanvas(stage, place, size);
          return at && <Cased key={i} d={`M${at.x - 8} ${at.y}h16M${at.x} ${at.y - 8}v16`} />;
        })}
    </svg>
  );
}
