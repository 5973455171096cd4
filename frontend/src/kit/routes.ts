declare module 'vue-router' {
  interface RouteMeta {
    title: string
    station?: string
  }
}

/** The number in an address, as a screen takes it. */
export const number = (params: Record<string, unknown>) => ({ number: Number(params.number) })
