import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'

export type Unit = Schemas['Unit']
type Known = Schemas['UnitKnown']
const GRAMS: Known = {
  unit: 'g',
  one: 'g',
  many: 'g',
  button: 'grams',
  family: 'scale',
  powder: true,
  liquid: true,
  rare: false,
  spread: 0,
}

/** An amount as it was told, in one measure or in two, as an act sends it. */
export const asTold = (told: Schemas['Told']) =>
  told.unit === 'eye'
    ? { unit: told.unit }
    : {
        unit: told.unit,
        amount: told.amount,
        fill: 'level' as const,
        parts: (told.parts ?? []).map(({ unit, amount }) => ({ unit, amount })),
      }

/** The units this studio measures in, as the server's one table of them says. */
export function useUnits() {
  const { data: workshop } = useWorkshop()
  const units = computed(() => workshop.value?.units ?? [GRAMS])
  const spoons = computed(() => units.value.filter((one) => one.family === 'spoon'))
  /** What powder is scooped with: spoons, and measures of one's own. */
  const spooned = computed(() =>
    units.value.filter((one) => one.powder && (one.family === 'spoon' || one.family === 'own')),
  )
  const teaspoon = computed<Unit>(
    () => spoons.value.find((one) => /teaspoon$/.test(one.unit))?.unit ?? 'teaspoon',
  )
  const known = (unit: Unit) => units.value.find((one) => one.unit === unit)
  return { units, spoons, spooned, teaspoon, known }
}
