// A failed request, as the server tells it: what happened, at which field, and the way out.
import type { components } from './schema'
import { say } from '../words/say'

type FieldError = components['schemas']['FieldError']

export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: FieldError[] = [],
  ) {
    super(detail || title)
  }

  static of(body: unknown, status: number): Problem {
    const p = (typeof body === 'object' && body !== null ? body : {}) as Partial<components['schemas']['Problem']>
    return new Problem(status, p.title ?? say('Something went wrong'), p.detail ?? '', p.errors ?? [])
  }

  /** The messages of one field, with the way out. */
  at(field: string): string {
    return this.errors
      .filter((e) => e.field === field)
      .map((e) => sentence(`${e.message}. ${e.hint ?? ''}`))
      .join(' ')
  }

  /** What is wrong with a file that was sent, or with the sending. */
  ofFile(): string {
    const fault = this.at('file')
    return fault ? say`The file ${fault.charAt(0).toLowerCase()}${fault.slice(1)}` : this.message
  }

  /** What belongs to none of the fields that a form shows. */
  rest(shown: string[]): string {
    if (this.errors.length === 0) return this.detail || this.title
    return this.errors
      .filter((e) => !shown.includes(e.field))
      .map((e) => sentence(`${e.field ? `${e.field} ` : ''}${e.message}. ${e.hint ?? ''}`))
      .join(' ')
  }
}

function sentence(s: string): string {
  const t = s.trim().replace(/\.\s*\./g, '.')
  return t.charAt(0).toUpperCase() + t.slice(1)
}

export function offline(): Problem {
  return new Problem(
    0,
    say('Falda does not answer'),
    say('The network or the program is away. What was confirmed is safe; this goes on by itself when it is back.'),
  )
}

/** Trying again would bring the same answer. */
export function isFinal(e: unknown): boolean {
  return e instanceof Problem && e.status >= 400 && e.status < 500 && e.status !== 408 && e.status !== 429
}

export function asProblem(e: unknown): Problem {
  return e instanceof Problem
    ? e
    : new Problem(0, say('Something went wrong'), e instanceof Error ? e.message : String(e))
}
