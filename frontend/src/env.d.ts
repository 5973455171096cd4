declare module 'swagger-ui-dist' {
  export function SwaggerUIBundle(options: Record<string, unknown>): unknown
}
