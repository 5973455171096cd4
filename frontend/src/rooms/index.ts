import type { RouteRecordRaw } from 'vue-router'
import type { Schemas } from '@/api/client'
import { routes as additives } from './additives/routes'
import { routes as batches } from './batches/routes'
import { routes as checks } from './checks/routes'
import { routes as day } from './day/routes'
import { routes as lineage } from './lineage/routes'
import { routes as makers } from './makers/routes'
import { routes as making } from './making/routes'
import { routes as materials } from './materials/routes'
import { routes as whole } from './package/routes'
import { routes as practice } from './practice/routes'
import { routes as mixing } from './mixing/routes'
import { routes as plan } from './plan/routes'
import { routes as recipes } from './recipes/routes'
import { routes as rubout } from './rubout/routes'
import { routes as shelf } from './shelf/routes'
import { routes as slab } from './slab/routes'
import { routes as sludge } from './sludge/routes'
import { routes as sticks } from './sticks/routes'
import { routes as tubes } from './tubes/routes'
import { routes as workshop } from './workshop/routes'

/** The addresses of every room. Adding a room adds its folder and one line here. */
export const routes: RouteRecordRaw[] = [
  ...materials,
  ...rubout,
  ...plan,
  ...slab,
  ...checks,
  ...recipes,
  ...lineage,
  ...day,
  ...tubes,
  ...shelf,
  ...sticks,
  ...sludge,
  ...making,
  ...practice,
  ...mixing,
  ...additives,
  ...batches,
  ...makers,
  ...whole,
  ...workshop,
]

type Counted = keyof Schemas['Counts']

/** A station of a craft: its name in the top line, its address, and how what asks for a hand there is said. */
export type Station = {
  key: string
  name: string
  to: string
  count?: Counted
  waits?: (n: number) => string
}

/** The stations of tube paint in the order of the work, which is that of the keys 1 to 8. */
export const stations: Station[] = [
  { key: 'stock', name: 'Stock', to: '/stock' },
  { key: 'rubout', name: 'Rub-out', to: '/rub-out', count: 'rubout', waits: (n) => `${n} open` },
  { key: 'plan', name: 'Plan', to: '/plan' },
  { key: 'slab', name: 'Slab', to: '/slab', count: 'slab', waits: (n) => `${n} open` },
  { key: 'check', name: 'Check', to: '/checks', count: 'check', waits: (n) => `${n} due` },
  { key: 'recipes', name: 'Recipes', to: '/recipes' },
  { key: 'tubes', name: 'Tubes', to: '/tubes', count: 'tubes', waits: (n) => `${n} to fill` },
  { key: 'shelf', name: 'Shelf', to: '/shelf' },
]

/** A craft beside tube paint: its name, address, what it is, what asks for a hand, and its own stations. */
export type Craft = Station & { says: string; stations: Station[] }

export const crafts: Craft[] = [
  {
    key: 'additives',
    name: 'Additives',
    to: '/additives',
    says: 'gels, ladders, what each gram does',
    count: 'additives',
    waits: (n) => `${n} to read`,
    stations: [
      { key: 'intent', name: 'Body', to: '/additives/body' },
      { key: 'ladders', name: 'Ladders', to: '/additives#ladders' },
      { key: 'gels', name: 'Gels', to: '/additives#gels' },
    ],
  },
  {
    key: 'sticks',
    name: 'Sticks',
    to: '/sticks',
    says: 'paint that draws',
    count: 'sticks',
    waits: (n) => `${n} to see`,
    stations: [
      { key: 'bases', name: 'Bases', to: '/sticks#bases' },
      { key: 'plan', name: 'Plan', to: '/sticks/plan' },
      { key: 'pots', name: 'Pots', to: '/sticks#on-heat' },
      { key: 'trials', name: 'Trials', to: '/sticks#trials' },
    ],
  },
  {
    key: 'sludge',
    name: 'Sludge',
    to: '/sludge',
    says: 'from the washing can to a tube',
    count: 'sludge',
    waits: (n) => `${n} to see`,
    stations: [
      { key: 'cans', name: 'Cans', to: '/sludge#cans' },
      { key: 'dishes', name: 'Dishes', to: '/sludge#dishes' },
      { key: 'cakes', name: 'Cakes', to: '/sludge#cakes' },
    ],
  },
  {
    key: 'making',
    name: 'Making',
    to: '/making',
    says: 'precipitates and lakes',
    count: 'making',
    waits: (n) => `${n} to see`,
    stations: [
      { key: 'processes', name: 'Processes', to: '/making#processes' },
      { key: 'runs', name: 'Runs', to: '/making#going' },
      { key: 'raw', name: 'Raw', to: '/making#raw' },
      { key: 'waste', name: 'Waste', to: '/making#waste' },
    ],
  },
  {
    key: 'mixing',
    name: 'Colour',
    to: '/mixing',
    says: 'charts, and what mixtures look like',
    stations: [
      { key: 'paints', name: 'Paints', to: '/mixing#paints' },
      { key: 'charts', name: 'Charts', to: '/mixing#charts' },
      { key: 'find', name: 'Find', to: '/mixing/find' },
    ],
  },
  {
    key: 'practice',
    name: 'Practice',
    to: '/practice',
    says: 'a made-up paste, nothing is lost',
    stations: [],
  },
]

/** What asks for a hand at a station today, in words; nothing where nothing does. */
export function waiting(station: Station, home: Schemas['Home'] | undefined): string {
  const n = station.count && home?.counts[station.count]
  return n && station.waits ? station.waits(n) : ''
}
