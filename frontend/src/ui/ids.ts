/** An id for a name, different from those that are taken. */
export function freeId(name: string, taken: readonly string[]): string {
  const plain = name
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  const stem = (plain || 'new').slice(0, 56)
  let id = stem
  for (let k = 2; taken.includes(id); k += 1) id = `${stem}-${k}`
  return id
}
