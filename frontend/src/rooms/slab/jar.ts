import { answered, api } from '@/api/client'
import { newId } from '@/kit/ids'

/** All of a finished batch into one jar on the shelf; false where that has to be done by hand. */
export async function intoJar(number: number): Promise<boolean> {
  try {
    const params = { path: { number } }
    const run = await answered(api.GET('/api/tubes/{number}', { params }))
    await answered(
      api.POST('/api/tubes/{number}/fill', {
        params,
        body: {
          id: newId(),
          jar: run.jars[0] ?? 'jar',
          volume_ml: Number(run.left_ml.toFixed(1)),
          part: false,
          cover: '',
          place: '',
          reason: '',
        },
      }),
    )
    return true
  } catch {
    return false
  }
}
