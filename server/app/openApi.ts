import { z } from 'zod'
import { ENDPOINTS } from '#contract/api/endpoints.ts'
import type { Endpoint } from '#contract/endpoint.ts'

/** The OpenAPI 3.1 document of all endpoints, made from the contract. */
export function openApi(): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {}
  for (const endpoint of ENDPOINTS) {
    const path = `/api${endpoint.path.replace(/:(\w+)/g, '{$1}')}`
    const parameters = [...parametersOf(endpoint.params, 'path'), ...parametersOf(endpoint.query, 'query')]
    const body =
      endpoint.method === 'get' || endpoint.method === 'delete' ? {} : { requestBody: { content: bodyOf(endpoint) } }
    const content =
      endpoint.answers === 'file'
        ? { 'application/octet-stream': {} }
        : { 'application/json': { schema: schemaOf(endpoint.response) } }
    paths[path] = {
      ...paths[path],
      [endpoint.method]: {
        operationId: endpoint.name,
        'x-permission': endpoint.permission,
        parameters,
        ...body,
        responses: { 200: { description: 'done', content }, default: { description: 'reasons why not' } },
      },
    }
  }
  return { openapi: '3.1.0', info: { title: 'Ivory Order', version: '0.1.0' }, paths }
}

const FILE_FORM = {
  type: 'object',
  properties: { file: { type: 'string', contentEncoding: 'binary' } },
  required: ['file'],
}
const bodyOf = (endpoint: Endpoint): unknown =>
  endpoint.takes === 'file'
    ? { 'multipart/form-data': { schema: FILE_FORM } }
    : { 'application/json': { schema: schemaOf(endpoint.body) } }

const schemaOf = (schema: z.ZodType): unknown => z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input' })

function parametersOf(schema: z.ZodType, place: 'path' | 'query') {
  const json = schemaOf(schema) as { properties?: Record<string, unknown>; required?: string[] }
  return Object.entries(json.properties ?? {}).map(([name, one]) => ({
    name,
    in: place,
    required: place === 'path' || (json.required ?? []).includes(name),
    schema: one,
  }))
}
