import 'swagger-ui-dist/swagger-ui.css'
import { SwaggerUIBundle } from 'swagger-ui-dist'

SwaggerUIBundle({ url: '/api/openapi.json', dom_id: '#api', deepLinking: true, validatorUrl: null })
