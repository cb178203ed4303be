/** What a page shows of things that can be set. */

/** A number that is set: a key of the layer, what it is called, its unit and range. Left out: texels. */
export interface NumberSetting {
  key: string;
  label: string;
  unit?: '' | '°' | 'px' | 'm';
  min?: number;
  max?: number;
  digits?: number;
}

/** A number that is dragged, in whole steps. */
export interface SlideSetting {
  is: 'slide';
  key: string;
  label: string;
  min: number;
  max: number;
  unit: string;
}

/** One of several. */
export interface ChoiceSetting {
  is: 'choice';
  key: string;
  label: string;
  options: readonly string[];
}

/** A length in metres of the model. */
export const metre = (key: string, label: string, min = 0, more: Partial<NumberSetting> = {}): NumberSetting => ({
  ...{ key, label, unit: 'm', min, max: 10_000, digits: 3 },
  ...more,
});
