import { useQuery } from '@tanstack/vue-query'
import { answered, api, type Schemas } from '@/api/client'

export type Said = Schemas['ProcessSaid']
export type Ingredient = Schemas['IngredientAsked']
export type Step = Schemas['StepAsked']

export const useMaking = () =>
  useQuery({ queryKey: ['making'], queryFn: () => answered(api.GET('/api/making')) })

export const TEMPLATES: Record<Schemas['Template'], [string, string]> = {
  precipitation: ['A precipitation', 'two solutions that make a solid; its equation is balanced for you'],
  lake_alum: ['A lake on alum and soda', 'a dye fixed on alumina'],
  lake_chalk: ['A lake on chalk', 'a dye fixed on chalk, with alum'],
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
  wash: 'wash',
  dry: 'dry',
  heat: 'heat',
  crush: 'crush',
  sieve: 'sieve',
  own: 'own step',
}
/** The figures in a formula as chemists write them, small. */
export const pretty = (formula: string) =>
  formula
    .replace(/\./g, '\u00b7')
    .replace(/(?<=[A-Za-z)\]])\d+/g, (figures) =>
      [...figures].map((one) => String.fromCharCode(0x2080 + Number(one))).join(''),
    )
export const prettyEquation = (text: string) =>
  text
    .split(' ')
    .map((word) => (/^\d+$/.test(word) ? word : word === '->' ? '\u2192' : pretty(word)))
    .join(' ')
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
