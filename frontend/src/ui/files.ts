/** A name that every system takes as one of a file, whatever the text has in it. */
export function fileName(text: string, ending: string): string {
  const plain = text
    .replaceAll(/[^\p{L}\p{N} ._-]/gu, '-')
    .replace(/^[ .-]+/, '')
    .slice(0, 100)
  return `${plain.trim() || 'plan'}.${ending}`
}

/** Give a file to the one who asked for it. */
export function handOver(name: string, file: Blob): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(file)
  link.download = name
  link.click()
  // Taken by now, or never.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
