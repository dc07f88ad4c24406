/** A name that every system takes as one of a file, whatever the text has in it. */
export function fileName(text: string, ending: string): string {
  const plain = text
    .replaceAll(/[^\p{L}\p{N} ._-]/gu, '-')
    .replace(/^[ .-]+/, '')
    .slice(0, 100)
  return `${plain.trim() || 'plan'}.${ending}`
}
