/** What the shipped specs have in common. */
import { SpecFile } from '../livery/spec.ts';

export const KEYS = {
  allowed: 'abcdefghijklmnopqrstuvwxyz0123456789-',
  says: 'lower-case letters, digits and hyphens',
  maxLength: 32,
};

const PLAIN: Omit<SpecFile, 'name'> = {
  map: 'colour',
  container: 'dds',
  format: 'bc7',
  header: 'dx10',
  colourSpace: 'srgb',
  mips: 'full',
  mipFilter: 'kaiser',
  flip: false,
  alpha: 'opaque',
  freeClear: false,
  padding: 16,
};

export const fileRule = (rule: Partial<SpecFile> & Pick<SpecFile, 'name'>): SpecFile =>
  SpecFile.parse({ ...PLAIN, ...rule });
