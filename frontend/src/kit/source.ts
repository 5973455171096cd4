/** How a log names where a material comes from: a lot of the shelf, or an entry of the shipped library. */
const LOT = 'lot-'
const LIBRARY = 'library-'

export const lotSource = (id: number | string): string => `${LOT}${id}`
export const librarySource = (key: string): string => `${LIBRARY}${key}`
/** The lot that a source names, if it names one. */
export const lotOf = (source: string): number | undefined =>
  source.startsWith(LOT) ? Number(source.slice(LOT.length)) : undefined
/** The key of the library that a source names; what is no source is a key already. */
export const keyOf = (source: string): string =>
  source.startsWith(LIBRARY) ? source.slice(LIBRARY.length) : source
