/**
 * Stands in for the colour arithmetic of the parts that are bought in: they use it only for a
 * button with a colour of its own, and every colour here is a token of the theme.
 */
export function TinyColor(): never {
  throw new Error('a button takes its colour from the theme')
}
