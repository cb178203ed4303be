import { Button, Divider, IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import { useMemo, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { stacksOf } from '@wet-lacquer/core/livery/history.ts';
import { Grow, Row } from '../parts/layout.tsx';
import { Hidden, Quiet } from '../parts/text.tsx';
import { sentenceOf } from '../lib/api.ts';
import { count, dateInWords } from '../lib/words.ts';
import { INK } from '../theme.ts';
import { KeyMark } from './commands/KeysDialog.tsx';
import { useEasel } from './context.ts';
import { person } from './person.ts';
import { setTrouble } from './session.ts';
import { StepPicture } from './StepPicture.tsx';
import { statesBack } from './statesBack.ts';
import { returnTo } from './versions/returnTo.ts';
import { CheckCircleOutline, CloudOffOutline, Redo, Undo } from '../parts/icons.tsx';

/** Steps that are listed at first, and so many more each time that earlier ones are asked for. */
const LISTED = 100;

/** What is said when steps could not be kept beside being on their way. */
const NO_ROOM = 'This browser has no room to keep steps: leave this window open until they are saved.';

/** Whether all is saved; the steps with their times, and back to any of one's own. */
export function SavedMenu({ onVersions }: { onVersions(): void }) {
  const { doc } = useEasel();
  const { saving, trouble, many, canUndo, canRedo } = doc.use(
    useShallow(({ saving, trouble, unkept, steps, earlier, canUndo, canRedo }) => ({
      saving,
      trouble: trouble && unkept > 0 ? `${trouble} ${NO_ROOM}` : trouble,
      many: earlier + steps.length,
      canUndo,
      canRedo,
    })),
  );
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const words = {
    saved: `Saved, ${count(many, 'step')}`,
    saving: 'Saving',
    offline: 'Not saved yet',
  }[saving];
  const close = () => setMenu(null);
  return (
    <Row gap={2}>
      <Tooltip title="Undo (Ctrl Z)">
        <span>
          <IconButton size="small" color="inherit" aria-label="Undo" disabled={!canUndo} onClick={() => doc.undo()}>
            <Undo fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="Redo (Ctrl Shift Z)">
        <span>
          <IconButton size="small" color="inherit" aria-label="Redo" disabled={!canRedo} onClick={() => doc.redo()}>
            <Redo fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip describeChild title={trouble ?? 'The steps of this livery'}>
        <Button
          size="small"
          variant="text"
          aria-haspopup="true"
          onClick={(event) => setMenu(event.currentTarget)}
          startIcon={
            saving === 'offline' ? (
              <CloudOffOutline sx={{ color: INK.amber }} />
            ) : (
              <CheckCircleOutline sx={{ opacity: saving === 'saved' ? 1 : 0.3 }} />
            )
          }
          sx={{ color: INK.quiet, minWidth: 138, justifyContent: 'flex-start' }}
        >
          {words}
        </Button>
      </Tooltip>
      {saving === 'offline' && <Hidden role="alert">{trouble}</Hidden>}
      <Menu
        anchorEl={menu}
        open={menu !== null}
        onClose={close}
        slotProps={{ paper: { sx: { maxHeight: 460, width: 400 } } }}
      >
        <MenuItem
          dense
          onClick={() => {
            close();
            onVersions();
          }}
        >
          <Grow as="span">Versions: keep, compare, return</Grow>
          <KeyMark keys="F4" />
        </MenuItem>
        <Divider />
        <Steps onClose={close} />
      </Menu>
    </Row>
  );
}

/** The steps, the last one first; a press goes back to it. */
function Steps({ onClose }: { onClose(): void }) {
  const { doc } = useEasel();
  const { livery, steps, earlier, people } = doc.use(
    useShallow(({ livery, steps, earlier, people }) => ({ livery, steps, earlier, people })),
  );
  const [listed, setListed] = useState(LISTED);
  const stateAt = useMemo(() => statesBack(livery, steps), [livery, steps]);
  const undoable = useMemo(() => new Set(stacksOf(steps, person()).undo.map((step) => step.id)), [steps]);
  const showEarlier = async () => {
    try {
      if (steps.length < listed + LISTED) await doc.lookBack();
      setListed(listed + LISTED);
    } catch (error) {
      onClose();
      setTrouble(sentenceOf(error));
    }
  };
  return (
    <>
      {steps.length === 0 && <MenuItem disabled>No steps yet</MenuItem>}
      {steps
        .slice(-listed)
        .toReversed()
        .map((step, back) => (
          <MenuItem
            key={step.id}
            dense
            disabled={!undoable.has(step.id) && !('revision' in step)}
            onClick={() => {
              onClose();
              if (undoable.has(step.id)) doc.backTo(step.id);
              else if ('revision' in step)
                returnTo(doc, step.revision, step.label).catch((error: unknown) => setTrouble(sentenceOf(error)));
            }}
          >
            <StepPicture stateAt={stateAt} back={back} />
            <span style={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis' }}>
              {step.undoes ? 'Undo: ' : step.redoes ? 'Redo: ' : ''}
              {step.label}
            </span>
            <span style={{ color: INK.quiet, marginLeft: 12 }}>
              {people[step.person] ? `${people[step.person]}, ` : ''}
              {'at' in step ? dateInWords(step.at) : 'now'}
            </span>
          </MenuItem>
        ))}
      {steps.length + earlier > listed && (
        <MenuItem dense onClick={() => void showEarlier()}>
          <Grow as="span">Earlier steps</Grow>
          <Quiet>{steps.length + earlier - listed}</Quiet>
        </MenuItem>
      )}
    </>
  );
}
