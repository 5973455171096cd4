/**
 * A UUID (version 4). `crypto.randomUUID` is there only in a secure context, and a studio's own network is none:
 * plain http off this machine.
 */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = (bytes[6]! & 0x0f) | 0x40
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join('-')
}

/** The id of one thing asked of the server, and when it was first asked. */
export type Once = { id: string; made_at: string }

/**
 * One id for one thing asked: asking again what nobody answered keeps it, so that it cannot count twice; another
 * content, or `settled`, begins anew.
 */
export function useOnce() {
  let held: (Once & { of: string }) | undefined
  return {
    once(content: unknown, at: Date = new Date()): Once {
      const of = JSON.stringify(content)
      if (held?.of !== of) held = { of, id: newId(), made_at: at.toISOString() }
      return { id: held.id, made_at: held.made_at }
    },
    settled(): void {
      held = undefined
    },
  }
}
