/** Pictograms, drawn from the paths of Material Design Icons: only those named here reach the page. */
import { createSvgIcon } from '@mui/material';
import {
  mdiAccountOutline,
  mdiAlertCircleOutline,
  mdiAlertOutline,
  mdiArrowLeft,
  mdiArrowRight,
  mdiCancel,
  mdiCheck,
  mdiCheckCircleOutline,
  mdiChevronDown,
  mdiChevronUp,
  mdiCircleHalfFull,
  mdiClose,
  mdiCloudOffOutline,
  mdiContentCopy,
  mdiDeleteOutline,
  mdiDotsHorizontal,
  mdiEyeOffOutline,
  mdiEyeOutline,
  mdiFileImportOutline,
  mdiHelpCircleOutline,
  mdiImageBrokenVariant,
  mdiImageFilterCenterFocus,
  mdiLayersOffOutline,
  mdiLayersOutline,
  mdiMagnify,
  mdiMinusCircleOutline,
  mdiPinOutline,
  mdiPlus,
  mdiRedo,
  mdiServer,
  mdiUndo,
} from '@mdi/js';

const icon = (path: string, name: string) => createSvgIcon(<path d={path} />, name);

export const AccountOutline = icon(mdiAccountOutline, 'AccountOutline');
export const AlertCircleOutline = icon(mdiAlertCircleOutline, 'AlertCircleOutline');
export const AlertOutline = icon(mdiAlertOutline, 'AlertOutline');
export const ArrowLeft = icon(mdiArrowLeft, 'ArrowLeft');
export const ArrowRight = icon(mdiArrowRight, 'ArrowRight');
export const Cancel = icon(mdiCancel, 'Cancel');
export const CheckMark = icon(mdiCheck, 'CheckMark');
export const CheckCircleOutline = icon(mdiCheckCircleOutline, 'CheckCircleOutline');
export const ChevronDown = icon(mdiChevronDown, 'ChevronDown');
export const ChevronUp = icon(mdiChevronUp, 'ChevronUp');
export const CircleHalfFull = icon(mdiCircleHalfFull, 'CircleHalfFull');
export const Close = icon(mdiClose, 'Close');
export const CloudOffOutline = icon(mdiCloudOffOutline, 'CloudOffOutline');
export const ContentCopy = icon(mdiContentCopy, 'ContentCopy');
export const DeleteOutline = icon(mdiDeleteOutline, 'DeleteOutline');
export const DotsHorizontal = icon(mdiDotsHorizontal, 'DotsHorizontal');
export const EyeOffOutline = icon(mdiEyeOffOutline, 'EyeOffOutline');
export const EyeOutline = icon(mdiEyeOutline, 'EyeOutline');
export const FileImportOutline = icon(mdiFileImportOutline, 'FileImportOutline');
export const HelpCircleOutline = icon(mdiHelpCircleOutline, 'HelpCircleOutline');
export const ImageBrokenVariant = icon(mdiImageBrokenVariant, 'ImageBrokenVariant');
export const ImageFilterCenterFocus = icon(mdiImageFilterCenterFocus, 'ImageFilterCenterFocus');
export const LayersOffOutline = icon(mdiLayersOffOutline, 'LayersOffOutline');
export const LayersOutline = icon(mdiLayersOutline, 'LayersOutline');
export const Magnify = icon(mdiMagnify, 'Magnify');
export const MinusCircleOutline = icon(mdiMinusCircleOutline, 'MinusCircleOutline');
export const PinOutline = icon(mdiPinOutline, 'PinOutline');
export const Plus = icon(mdiPlus, 'Plus');
export const Redo = icon(mdiRedo, 'Redo');
export const Server = icon(mdiServer, 'Server');
export const Undo = icon(mdiUndo, 'Undo');
