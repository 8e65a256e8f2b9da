// The one door to the server: typed by the contract, every failure a Problem.
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'
import { learn } from './clock'
import { learnPage } from './page'
import { offline, Problem } from './problem'

export type S = components['schemas']

const client = createClient<paths>({ baseUrl: '/api/v1' })
/** What the service worker may answer itself, from an earlier day. */
const keptAside = ['/api/v1/me', '/api/v1/shop']
client.use({
  onResponse: ({ request, response }) => {
    if (keptAside.includes(new URL(request.url, location.href).pathname)) return
    learn(response.headers.get('Date'))
    learnPage(response.headers.get('Falda-Page'))
  },
})

export const { GET, POST, PUT, DELETE } = client

/** Waits for an answer and gives its data, nothing where there is none; throws a Problem for anything else. */
export async function data<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got
  try {
    got = await answer
  } catch {
    throw offline()
  }
  if (got.error !== undefined || (got.data === undefined && got.response.status !== 204))
    throw Problem.of(got.error, got.response.status)
  return got.data as T
}

/** A file as the body of a request. */
export const fileBody = (file: File) => ({
  headers: { 'Content-Type': 'application/octet-stream' },
  body: '',
  bodySerializer: () => file,
})
