/** Buttons take their colours from the theme: the package that mixes shades for a button's `color` stays out of the first page. */
export class TinyColor {
  constructor() {
    throw new Error('A button takes its colour from the theme.')
  }
}
