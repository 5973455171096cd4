import { librarySource, lotSource } from '@/kit/source'
import { useQuery } from '@tanstack/vue-query'
import { answered, api, type Schemas } from '@/api/client'

/** Every additive, with the studio's own lots and gels of it. */
export const useChoices = () =>
  useQuery({ queryKey: ['additives'], queryFn: () => answered(api.GET('/api/additives')) })

export type Option = { source: string; name: string; detail: string; gel: boolean; choice: Schemas['Choice'] }

/** The tins, pots and library entries an additive can come from, the studio's own first. */
export function optionsOf(choices: Schemas['Choice'][], extenders = true): Option[] {
  return choices
    .filter((choice) => extenders || choice.moment !== 'dry')
    .flatMap((choice) => [
      ...choice.forms
        .filter((form) => !form.past)
        .map((form) => ({
          source: lotSource(form.lot_id),
          name: form.strength != null ? form.name : choice.additive.name,
          detail: `${form.code}, ${form.on_hand_g.toFixed(0)} g`,
          gel: form.strength != null,
          choice,
        })),
      {
        source: librarySource(choice.additive.key),
        name: `${choice.additive.name}${choice.gels ? ', dry' : ''}`,
        detail: 'library',
        gel: false,
        choice,
      },
    ])
}

export const BASIS_OF: Record<string, string> = {
  oil: 'of the oil',
  pigment: 'of the pigment',
  total: 'of the paint',
}
export const MOMENTS: Record<Schemas['Moment'], string> = {
  dry: 'with the dry powder',
  first: 'with the first pour',
  last: 'stirred in last',
}

/** A dose as a maker says it. */
export const pct = (value: number) => `${Number(value.toPrecision(2))} %`
