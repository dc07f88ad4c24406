import { night } from '@/theme/theme'

const known = { day: new Map<string, string>(), night: new Map<string, string>() }

/** A colour of the theme that is shown, by the name of its custom property. */
export function colourOf(name: string): string {
  const colours = night.value ? known.night : known.day
  let colour = colours.get(name)
  if (colour === undefined) {
    colour = getComputedStyle(document.documentElement).getPropertyValue(name).trim()
    colours.set(name, colour)
  }
  return colour
}
