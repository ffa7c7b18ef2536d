/** A list with a value put in, or taken out where it was in. toggled(['a'], 'b') //=> ['a', 'b'] */
export const toggled = <T>(list: readonly T[], value: T): T[] =>
  list.includes(value) ? list.filter(one => one !== value) : [...list, value]
