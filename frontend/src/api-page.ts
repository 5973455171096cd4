import 'swagger-ui-dist/swagger-ui.css'
import { SwaggerUIBundle } from 'swagger-ui-dist'

// Folded, room by room, and without the list of schemas: hundreds of entries at once leave the page half drawn.
SwaggerUIBundle({
  url: '/api/openapi.json',
  dom_id: '#api',
  deepLinking: true,
  validatorUrl: null,
  defaultModelsExpandDepth: -1,
  docExpansion: 'none',
})
