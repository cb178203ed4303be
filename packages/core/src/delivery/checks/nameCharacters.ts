import { fillIn } from '../../livery/livery.ts';
import { slugOf } from '../../livery/slug.ts';
import type { Check } from '../finding.ts';

export const nameCharacters: Check = {
  key: 'name-characters',
  subject: 'names',
  why: 'Most games skip a folder or file whose name is off by one character, without a word.',
  run({ livery, spec }) {
    const key = livery.particulars.key ?? '';
    const { allowed, says, maxLength } = spec.liveryKey;
    const show = { particular: 'key' };
    const better =
      slugOf(key || fillIn(livery.particulars.name ?? '', livery.particulars) || 'livery')
        .slice(0, maxLength)
        .replace(/-+$/, '') || 'livery';
    const fix = { label: `Make it ${better}`, edit: { do: 'set-particular' as const, key: 'key', value: better } };
    if (key === '') {
      return [
        {
          check: this.key,
          level: 'stop',
          title: 'The livery has no key',
          detail: `${spec.gameName} names the folder and every file after it: ${says}.`,
          show,
          fix,
        },
      ];
    }
    const at = [...key].findIndex((ch) => !allowed.includes(ch));
    if (at >= 0) {
      const ch = [...key][at];
      const what = ch === ' ' ? 'a space' : /[A-Z]/.test(ch) ? 'a capital letter' : `the character "${ch}"`;
      return [
        {
          check: this.key,
          level: 'stop',
          title: `The livery’s key has ${what}`,
          detail: `${spec.gameName} ignores names that are not ${says}: ${key}, character ${at + 1}.`,
          show,
          fix,
        },
      ];
    }
    if (key.length > maxLength) {
      return [
        {
          check: this.key,
          level: 'stop',
          title: 'The livery’s key is too long',
          detail: `${spec.gameName} reads ${maxLength} characters; ${key} has ${key.length}.`,
          show,
          fix,
        },
      ];
    }
    return [];
  },
};
