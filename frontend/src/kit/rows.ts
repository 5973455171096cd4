import { toRaw } from 'vue'

const keys = new WeakMap<object, number>()
let given = 0

/** A key for a row of a list that is edited: its own, wherever in the list it moves, and no other row's after it. */
export function rowKey(row: object): number {
  const own = toRaw(row)
  if (!keys.has(own)) keys.set(own, ++given)
  return keys.get(own)!
}
