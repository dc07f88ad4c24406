import { night } from '@/theme/theme'

const known = new Map<string, string>()

/** A colour of the theme that is shown, by the name of its custom property. */
export function colourOf(name: string): string {
  const key = `${name} ${night.value}`
  let colour = known.get(key)
  if (colour === undefined) {
    colour = getComputedStyle(document.documentElement).getPropertyValue(name).trim()
    known.set(key, colour)
  }
  return colour
}
