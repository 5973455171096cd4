/** Names as people type them: accents, capitals, commas and hyphens do not matter. */

export const folded = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** Whether every word typed is in a folded text. */
export function called(names: string, typed: string): boolean {
  return folded(typed)
    .split(' ')
    .every((word) => names.includes(word))
}
