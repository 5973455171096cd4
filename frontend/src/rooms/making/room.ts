import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { useJob, type Unsent } from '@/kit/job/job'

type Sent = paths['/api/making/runs/{number}/acts']['post']['requestBody']['content']['application/json']
/** An act on a run as a screen says it, before it has an id and a time. */
export type RunSaid = Unsent<Sent>
export type Run = Schemas['RunView']
export type RunStep = Run['steps'][number]

/** Where the queue sends a run's acts. */
export const RUNS = 'making/runs'

/** One run, kept in step with every other window. */
export const useRun = (number: Ref<number>) =>
  useJob<Run, RunSaid>({
    room: RUNS,
    who: 'runs',
    number,
    fetch: (of) => answered(api.GET('/api/making/runs/{number}', { params: { path: { number: of } } })),
    words: runWords,
    every: 30_000,
    changes: ['making', 'process', 'lots', 'lot', 'library', 'home'],
  })

export type Said = Schemas['ProcessSaid']
export type Ingredient = Schemas['IngredientAsked']
export type Step = Schemas['StepAsked']

export const useMaking = () =>
  useQuery({ queryKey: ['making'], queryFn: () => answered(api.GET('/api/making')) })

export const TEMPLATES: Record<Schemas['Template'], [string, string]> = {
  precipitation: ['A precipitation', 'two solutions that make a solid; its equation is balanced for you'],
  lake_alum: ['A lake on alum and soda', 'a dye fixed on alumina'],
  lake_chalk: ['A lake on chalk', 'a dye fixed on chalk, with alum'],
  lake_spoon: ['A lake by the spoon', 'some dye, some alum, a spoon of chalk'],
  blank: ['A blank sheet', 'your own steps, one by one'],
}
export const ROLES: Record<Schemas['Does'], string> = {
  salt: 'salt',
  precipitant: 'brings it down',
  dye: 'dye',
  substrate: 'carries the dye',
  other: 'other',
}
export const KINDS: Record<Schemas['StepKind'], string> = {
  dissolve: 'dissolve',
  add: 'add',
  acidity: 'pH',
  hold: 'hold',
  settle: 'settle',
  filter: 'filter',
  wash: 'wash',
  dry: 'dry',
  heat: 'heat',
  crush: 'crush',
  sieve: 'sieve',
  own: 'own step',
}
/** An amount as one weighs it: small ones to the hundredth. */
export const amount = (g: number) => (g < 10 ? g.toFixed(2) : g < 1000 ? g.toFixed(1) : g.toFixed(0))
/** What a step keeps to, in words. */
export function within(step: Step): string {
  const words: string[] = []
  if (step.ph_low != null || step.ph_high != null)
    words.push(`pH ${step.ph_low ?? '0'} to ${step.ph_high ?? '14'}`)
  if (step.temperature_low_c != null || step.temperature_high_c != null)
    words.push(`${step.temperature_low_c ?? '\u2026'} to ${step.temperature_high_c ?? '\u2026'} \u00b0C`)
  if (step.minutes) words.push(step.minutes < 120 ? `${step.minutes} min` : `${step.minutes / 60} h`)
  if (step.kind === 'wash' && step.washes) words.push(`${step.washes} times ${step.wash_ml} ml`)
  if (step.mesh_um) words.push(`${step.mesh_um} \u00b5m`)
  return words.join(', ')
}

export const TAKES: Record<Schemas['Takes'], string> = {
  well: 'takes it well',
  gritty: 'gritty',
  seizes: 'seizes',
}
export const FADING: Record<Schemas['Fading'], string> = {
  none: 'no change',
  barely: 'barely paler',
  clearly: 'clearly paler',
  gone: 'gone',
}
export const VERDICTS: Record<Schemas['LightVerdict'], string> = {
  holds: 'it holds',
  fades: 'it fades',
  fugitive: 'it does not last',
}

/** An act as the queue shows it while it waits. */
function runWords(said: RunSaid, view: Run | undefined): string {
  const step = (key: string) => view?.steps.find((one) => one.key === key)?.says ?? 'a step'
  switch (said.kind) {
    case 'added': {
      const name = view?.weigh.find((one) => one.key === said.ingredient)?.name ?? 'an ingredient'
      if (said.measure.unit === 'eye') return `some ${name} in`
      return `${said.measure.amount} ${said.measure.unit.replaceAll('_', ' ')} ${name} in`
    }
    case 'ph':
      return `pH ${said.ph}`
    case 'temperature':
      return `${said.temperature_c} \u00b0C`
    case 'hold':
    case 'rest':
    case 'done':
    case 'skip':
      return `${step(said.step)}: ${said.kind === 'skip' ? 'left out' : said.kind}`
    case 'washed':
      return `washed with ${said.ml} ml`
    case 'weighed':
      return `weighs ${said.g} g`
    case 'finish':
      return said.measure
        ? `${said.measure.amount} ${said.measure.unit.replaceAll('_', ' ')} in all`
        : `${said.g} g in all`
    case 'to_stock':
      return `${said.g} g into stock`
    case 'waste':
      return `${said.ml} ml of waste`
    case 'note':
      return `note: ${said.text}`
    default:
      return said.kind.replaceAll('_', ' ')
  }
}
