import { envOf, renderRegion } from '../../compose/renderTile.ts';
import type { Edit } from '../../livery/edit.ts';
import { layersOf, type Livery } from '../../livery/livery.ts';
import { tallOf, type Plate } from '../../livery/plate.ts';
import type { SpecPlates } from '../../livery/specPlates.ts';
import { boundsOf, isDrawn } from '../../layers/index.ts';
import { clearLift, fitPlate, measureBoth } from '../../plates/fit.ts';
import type { Check, CheckInput, Finding } from '../finding.ts';

/** A plate that stands farther off than this, and than this share of its longer side, is seen to (common practice, no source). */
const OFF_M = 0.02;
const OFF_SHARE = 0.04;
/** A cut of less is rounding, metres. */
const ROUNDING = 1e-4;
/** Shares of a plate with nothing behind it, and with something before it, from which it is said. */
const HANGS = 0.04;
const HIDDEN = 0.05;

const mm = (metres: number): string => {
  const value = metres * 1000;
  return `${value < 10 ? value.toFixed(1).replace(/\.0$/, '') : Math.round(value)} mm`;
};
const percent = (share: number): string => `${Math.max(1, Math.round(share * 100))} %`;

export const plates: Check = {
  key: 'plates',
  subject: 'plates',
  why: 'A plate stands on the model by itself: it must not lie in it, has a picture of its own, and the game must be able to take it.',
  run(input) {
    const { livery, spec } = input;
    const shown = (livery.plates ?? []).filter(({ hidden }) => !hidden);
    if (shown.length === 0) return [];
    if (!spec.plates)
      return [
        said(shown[0], 'advice', {
          title: `${spec.gameName} takes no plates`,
          detail: `${shown.length === 1 ? `“${shown[0].name}” stays` : `All ${shown.length} stay`} at home: what it carries can only be painted there.`,
        }),
      ];
    const { most = Infinity } = spec.plates;
    const many = shown.reduce((n, { partner }) => n + (partner ? 2 : 1), 0);
    const findings = shown.flatMap((plate) => aboutOne(plate, spec.plates!, input));
    if (many > most)
      findings.unshift(
        said(shown[0], 'stop', {
          title: `${many} plates, and ${spec.gameName} takes ${most}`,
          detail: 'A partner on the other side counts as one more.',
        }),
      );
    return findings;
  },
};

const said = (plate: Plate, level: Finding['level'], more: Omit<Finding, 'check' | 'level'>): Finding => ({
  check: plates.key,
  level,
  show: { sheet: plate.sheet },
  ...more,
});

const set = (plate: Plate, values: Extract<Edit, { do: 'set-plate' }>['set']): Edit => ({
  do: 'set-plate',
  plate: plate.id,
  set: values,
});

function aboutOne(plate: Plate, takes: SpecPlates, input: CheckInput): Finding[] {
  const { template, livery, spec } = input;
  const name = `“${plate.name}”`;
  const sheet = template.sheets.find(({ key }) => key === plate.sheet);
  if (!sheet?.plates || plate.left + plate.width > sheet.width || plate.top + plate.height > sheet.height)
    return [
      said(plate, 'stop', {
        title: `The picture of ${name} is not on a sheet of plates`,
        detail: sheet ? `It reaches beyond ${sheet.name}.` : `The template has no sheet “${plate.sheet}”.`,
        fix: { label: 'Take the plate off', edit: { do: 'remove-plate', plate: plate.id } },
      }),
    ];
  const findings: Finding[] = [];
  if (!takes.kinds.includes(plate.form.kind))
    findings.push(
      said(plate, 'stop', {
        title: `${spec.gameName} takes no ${plate.form.kind} plates`,
        detail: `${name} is ${plate.form.kind}; the game takes ${takes.kinds.join(' and ')} ones.`,
        fix: {
          label: 'Fit it to the surface',
          edit: set(plate, takes.kinds.includes('bent') ? fitPlate(plate, template) : { form: { kind: 'flat' } }),
        },
      }),
    );
  findings.push(...aboutFit(plate, input));
  if (isClear(plate, input))
    findings.push(
      said(plate, 'advice', {
        title: `Nothing is painted on ${name}`,
        detail: `Its picture on ${sheet.name} is clear, so that the game shows nothing there.`,
      }),
    );
  const overlapped = (livery.plates ?? []).find((other) => other.id > plate.id && partlySame(plate, other));
  if (overlapped)
    findings.push(
      said(plate, 'advice', {
        title: `The pictures of ${name} and “${overlapped.name}” overlap on ${sheet.name}`,
        detail: 'What is painted where they do shows on both.',
      }),
    );
  if (plate.partner && !plate.partner.readable && carriesLettering(plate, livery, input))
    findings.push(
      said(plate, 'advice', {
        title: `The lettering of ${name} reads backwards on the other side`,
        detail: 'Its partner there is as a mirror shows it.',
        fix: {
          label: 'Let it be read there',
          edit: set(plate, { partner: { ...plate.partner, readable: true } }),
        },
      }),
    );
  return findings;
}

function aboutFit(plate: Plate, { template, spec }: CheckInput): Finding[] {
  const name = `“${plate.name}”`;
  const { cut, gap, hangs, hidden, partnerDeeper } = measureBoth(plate, template);
  const lift = cut > ROUNDING ? clearLift(plate, template) : plate.lift;
  const side = partnerDeeper ? ' on the other side' : '';
  if (cut > ROUNDING)
    return [
      said(plate, 'stop', {
        title: `${name} lies up to ${mm(cut)} in the model${side}`,
        detail: `What of it is inside cannot be seen, and ${spec.gameName} refuses it.`,
        fix: { label: `Lift it to ${mm(lift)} off`, edit: set(plate, { lift }) },
        otherFix: { label: 'Fit it to the surface', edit: set(plate, fitPlate(plate, template)) },
        overrule: `plate-cuts-${plate.id}`,
      }),
    ];
  const findings: Finding[] = [];
  const longer = Math.max(plate.across, tallOf(plate));
  if (gap - plate.lift > Math.max(OFF_M, OFF_SHARE * longer))
    findings.push(
      said(plate, 'advice', {
        title: `${name} stands up to ${mm(gap)} off the surface`,
        detail: 'Seen from aside there is a gap behind it.',
        fix: { label: 'Fit it to the surface', edit: set(plate, fitPlate(plate, template)) },
      }),
    );
  if (hangs > HANGS)
    findings.push(
      said(plate, 'advice', {
        title: `${percent(hangs)} of ${name} hangs over the edge of what it stands on`,
        detail: 'There is nothing of the model behind it there.',
      }),
    );
  if (hidden > HIDDEN)
    findings.push(
      said(plate, 'advice', {
        title: `${percent(hidden)} of ${name} is behind something`,
        detail: 'Another part of the model stands before it.',
      }),
    );
  return findings;
}

/** Whether nothing shows of a plate's picture. */
function isClear({ sheet, left, top, width, height }: Plate, { livery, sources }: CheckInput): boolean {
  const region = { x: left, y: top, width: Math.ceil(width / 4), height: Math.ceil(height / 4), step: 4 };
  const picture = renderRegion(livery, sheet, 'colour', region, sources);
  for (let i = 3; i < picture.length; i += 4) if (picture[i] > 512) return false;
  return true;
}

/** Whether two pictures share texels and are not the same. */
function partlySame(a: Plate, b: Plate): boolean {
  if (a.sheet !== b.sheet) return false;
  if (a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height) return false;
  const apart = (at: number, long: number, to: number, other: number) => at + long <= to || to + other <= at;
  return !apart(a.left, a.width, b.left, b.width) && !apart(a.top, a.height, b.top, b.height);
}

function carriesLettering(plate: Plate, livery: Livery, { sources }: CheckInput): boolean {
  const env = envOf(livery, sources, plate.sheet);
  return layersOf(livery, plate.sheet).some((layer) => {
    if (layer.kind !== 'lettering' || layer.hidden || !isDrawn(layer)) return false;
    const box = boundsOf(layer, env);
    if (!box) return true;
    const { left, top, width, height } = plate;
    return box.left < left + width && box.right > left && box.top < top + height && box.bottom > top;
  });
}
