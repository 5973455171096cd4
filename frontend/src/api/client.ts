import { QueryClient } from '@tanstack/vue-query'
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = { title: string; status: number; detail: string; errors: Refusal[] }
export type Refusal = { field: string; problem: string; accepted: string }

export const api = createClient<paths>({ baseUrl: window.location.origin })

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 0, refetchOnWindowFocus: true } },
})

/** A refusal by the server, as its problem document. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }

  /** Whether it says why: only then is it known that asking again would change nothing. */
  get withReason(): boolean {
    return this.problem.errors.length > 0
  }

  /** The first refusal in words, where it stands beside no field. */
  get words(): string {
    const first = this.problem.errors[0]
    return first ? sentence(first) : this.problem.detail
  }

  /** What is asked about a field, whose answers stand beneath it as buttons. */
  asks(field: string): string | undefined {
    const found = this.problem.errors.find((e) => e.field === field)
    return found && `${capital(found.problem)}${found.problem.endsWith('?') ? '' : '.'}`
  }

  /** What is said about a field (or a field below it), in words for beside it. */
  at(field: string): string | undefined {
    const found = this.problem.errors.find((e) => e.field === field || e.field.startsWith(`${field}.`))
    return found && sentence(found)
  }
}

/** A refusal by this browser, in the server's manner. */
export function refusedHere(problem: string, accepted: string): Refused {
  return new Refused({
    title: problem,
    status: 0,
    detail: problem,
    errors: [{ field: '', problem, accepted }],
  })
}

/** The server did not answer, or failed: nothing is known about what it did. The message says what is waited for. */
export class Unreachable extends Error {
  /** `silent`: nobody answered at all; otherwise the server did, and failed. */
  constructor(
    message: string,
    readonly silent = false,
  ) {
    super(message)
  }
}

/** One refusal in words: what is wrong, and what would be taken. */
export function sentence(refusal: Refusal): string {
  const { problem, accepted } = refusal
  if (ASKED_FOR.has(problem)) return `Needed: ${accepted}.`
  const ask = /^(why|what|how|who|when|where|which)\b/.test(accepted) ? 'Say' : 'Try'
  return `${capital(problem)}${problem.endsWith('?') ? '' : '.'} ${ask} ${accepted}.`
}

/** Problems that say no more than that something is wanted. */
const ASKED_FOR = new Set(['missing', 'empty', 'too few', 'says nothing'])

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

let whenSignedOut = (): void => undefined
let whenNotAllowed: (why: string) => void = () => undefined
/** What to do once the server says that nobody is signed in on this device, or that whoever is may not do that. */
export function onSignedOut(signedOut: () => void, notAllowed: (why: string) => void): void {
  whenSignedOut = signedOut
  whenNotAllowed = notAllowed
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** The data of an answer; throws Refused with its problem document, or Unreachable, so for whatever failed there. */
export async function answered<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await asked
  } catch {
    throw new Unreachable('The server does not answer.', true)
  }
  if (!answer.response.ok) {
    const problem = answer.error as Problem | undefined
    if (answer.response.status === 401) {
      whenSignedOut()
      throw new Unreachable('Nobody is signed in here any more.')
    }
    if (answer.response.status === 403 && problem) whenNotAllowed(problem.title)
    if (answer.response.status < 500 && problem?.errors) throw new Refused(problem)
    throw new Unreachable(problem?.detail || `The server failed (${answer.response.status}).`)
  }
  return answer.data as T
}
