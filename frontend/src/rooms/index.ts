import type { RouteRecordRaw } from 'vue-router'
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

/** A station of the work: its name in the top line, its address, its key, and how what waits there is said. */
export type Station = {
  key: 'stock' | 'rubout' | 'plan' | 'slab' | 'check' | 'recipes' | 'tubes' | 'shelf'
  name: string
  to: string
  waits: (n: number) => string
}

/** The stations in the order of the work, which is that of the keys 1 to 8. */
export const stations: Station[] = [
  { key: 'stock', name: 'Stock', to: '/stock', waits: (n) => `${n} low` },
  { key: 'rubout', name: 'Rub-out', to: '/rub-out', waits: (n) => `${n} open` },
  { key: 'plan', name: 'Plan', to: '/plan', waits: (n) => `${n} kept` },
  { key: 'slab', name: 'Slab', to: '/slab', waits: (n) => `${n} open` },
  { key: 'check', name: 'Check', to: '/checks', waits: (n) => `${n} due` },
  { key: 'recipes', name: 'Recipes', to: '/recipes', waits: (n) => `${n} kept` },
  { key: 'tubes', name: 'Tubes', to: '/tubes', waits: (n) => `${n} to fill` },
  { key: 'shelf', name: 'Shelf', to: '/shelf', waits: (n) => `${n} to see` },
]

/** A craft beside the way from powder to shelf: its name, address, what it is, and how what waits is said. */
export type Beside = {
  key: 'additives' | 'sticks' | 'sludge' | 'making' | 'mixing' | 'practice'
  name: string
  to: string
  says: string
  waits: (n: number) => string
}

export const beside: Beside[] = [
  {
    key: 'additives',
    name: 'Additives',
    to: '/additives',
    says: 'gels, ladders, what each gram does',
    waits: (n) => `${n} to read`,
  },
  { key: 'sticks', name: 'Sticks', to: '/sticks', says: 'paint that draws', waits: (n) => `${n} to see` },
  {
    key: 'sludge',
    name: 'Sludge',
    to: '/sludge',
    says: 'from the washing can to a tube',
    waits: (n) => `${n} to see`,
  },
  {
    key: 'making',
    name: 'Making',
    to: '/making',
    says: 'precipitates and lakes',
    waits: (n) => `${n} to see`,
  },
  {
    key: 'mixing',
    name: 'Colour',
    to: '/mixing',
    says: 'charts, and what mixtures look like',
    waits: (n) => `${n} to paint`,
  },
  {
    key: 'practice',
    name: 'Practice',
    to: '/practice',
    says: 'a made-up paste, nothing is lost',
    waits: (n) => `${n} begun`,
  },
]
