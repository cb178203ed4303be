import { Button, Dialog, DialogActions, DialogContent, DialogTitle, InputBase, Menu, MenuItem } from '@mui/material';
import { memo, useState } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { PHASES, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { Explained } from '../../parts/Explained.tsx';
import { Heading } from '../../parts/text.tsx';
import { DecalShelf } from '../../parts/DecalShelf.tsx';
import { INK } from '../../theme.ts';
import { addLayer } from '../actions.ts';
import { useEasel, useTemplate } from '../context.ts';
import { takeInHand } from '../hand.ts';
import { useSession, useSessionOf } from '../session.ts';
import { addPlate } from '../plates/acts.ts';
import { BakeDialog } from './BakeDialog.tsx';
import { LayerActs } from './LayerActs.tsx';
import { decalLayer, MAKERS, makersFor } from './makers.ts';
import { placeHere } from './placeHere.ts';
import { ChevronDown, ChevronUp, Plus } from '../../parts/icons.tsx';

const HEADS = PHASES.filter((phase) => MAKERS.some((maker) => maker.phase === phase));

/** The shelf's head: what each phase can make, and what can be done with the chosen layer. */
export const ShelfHead = memo(function ShelfHead({
  search,
  onSearch,
}: {
  search: string;
  onSearch(search: string): void;
}) {
  const { doc } = useEasel();
  const template = useTemplate();
  const { sheet: sheetKey, listOpen } = useSessionOf('sheet', 'listOpen');
  const [menu, setMenu] = useState<{ phase: Phase; at: HTMLElement } | null>(null);
  const [picking, setPicking] = useState(false);
  const [baking, setBaking] = useState(false);

  const placeOf = () => placeHere(template, doc.use.getState().livery, sheetKey);
  const pick = (decal: DecalCard) => {
    setPicking(false);
    void addLayer(doc, decalLayer(decal, placeOf()), 'Marks');
  };

  return (
    <div style={{ display: 'flex', alignItems: 'center', gap: 10, minHeight: 34, flex: 'none', padding: '0 12px' }}>
      <Heading as="h2">Build-up</Heading>
      {HEADS.map((phase) => (
        <Button
          key={phase}
          size="small"
          aria-label={`Add to ${phase}`}
          aria-haspopup="true"
          onClick={(event) => setMenu({ phase, at: event.currentTarget })}
          endIcon={<Plus sx={{ fontSize: '15px !important' }} />}
          sx={{ minHeight: 26, py: 0, px: 1, '& .MuiButton-endIcon': { ml: 0.5 } }}
        >
          {phase}
        </Button>
      ))}
      {listOpen && (
        <InputBase
          value={search}
          onChange={(event) => onSearch(event.target.value)}
          placeholder="Search layers"
          inputProps={{ 'aria-label': 'Search layers' }}
          sx={{
            width: 150,
            border: `1px solid ${INK.edge}`,
            borderRadius: '2px',
            px: 1,
            height: 26,
            background: INK.raised,
          }}
        />
      )}
      <LayerActs />
      <Button
        size="small"
        aria-expanded={listOpen}
        onClick={() => useSession.setState({ listOpen: !listOpen })}
        endIcon={listOpen ? <ChevronDown /> : <ChevronUp />}
        sx={{ minHeight: 26, py: 0, px: 1 }}
      >
        List
      </Button>
      <Menu anchorEl={menu?.at} open={menu !== null} onClose={() => setMenu(null)}>
        {makersFor(template)
          .filter((maker) => maker.phase === menu?.phase)
          .map((maker) => (
            <MenuItem
              key={maker.key}
              onClick={() => {
                setMenu(null);
                void addLayer(doc, maker.make(placeOf()), maker.phase);
                if (maker.key === 'brushwork') takeInHand('paint');
              }}
            >
              <Explained name={maker.name} what={maker.what} />
            </MenuItem>
          ))}
        {menu?.phase === 'Base' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setBaking(true);
            }}
          >
            <Explained name="Occlusion" what="shading of corners, baked from the model" />
          </MenuItem>
        )}
        {menu?.phase === 'Marks' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setPicking(true);
            }}
          >
            <Explained name="Decal" what="from the library, or a picture of your own" />
          </MenuItem>
        )}
        {menu?.phase === 'Marks' && template.sheets.some(({ plates }) => plates) && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              addPlate(doc);
            }}
          >
            <Explained name="Plate" what="a thin board of its own that stands on the model" />
          </MenuItem>
        )}
      </Menu>
      {baking && <BakeDialog sheet={sheetNamed(template, sheetKey)} onClose={() => setBaking(false)} />}
      <Dialog open={picking} onClose={() => setPicking(false)} fullWidth maxWidth="md" aria-labelledby="pick-decal">
        <DialogTitle id="pick-decal">Place a decal</DialogTitle>
        <DialogContent>
          <DecalShelf verb="Place" onChoose={pick} />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setPicking(false)}>Cancel</Button>
        </DialogActions>
      </Dialog>
    </div>
  );
});
