// Writes THIRD_PARTY.md: what is in the program and in its pages that others made, with the terms on which they give
// it. The Go modules are those that the program is linked from, the packages those whose code the build puts into the
// pages. Run it by `make licences`.
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'

const root = new URL('..', import.meta.url).pathname
const go = process.env.GO || 'go'

/** The texts of licence files in a folder. */
function texts(dir) {
  return readdirSync(dir)
    .filter((f) => /^(licen[cs]e|copying|notice)(\.|-|$)/i.test(f))
    .sort()
    .map((f) => readFileSync(join(dir, f), 'utf8').replace(/\r/g, '').trim())
}

const kinds = [
  ['OFL-1.1', /SIL OPEN FONT LICENSE/i],
  ['Apache-2.0', /Apache License\s+Version 2\.0/],
  ['MPL-2.0', /Mozilla Public License,? v(ersion )?\.? ?2\.0/i],
  ['MIT', /Permission is hereby granted, free of charge/],
  [
    'BSD-3-Clause',
    /Redistributions of source code must[^]*(Neither the name|may not be used to endorse)|contributors may not be/i,
  ],
  ['BSD-2-Clause', /Redistributions of source code must retain/],
  ['ISC', /Permission to use, copy, modify, and(\/or)? distribute this software/],
]
function kindOf(list) {
  const found = kinds.filter(([, mark]) => list.some((t) => mark.test(t))).map(([name]) => name)
  return (found.includes('BSD-3-Clause') ? found.filter((k) => k !== 'BSD-2-Clause') : found).join(' and ')
}

const parts = []

const modules = execFileSync(
  go,
  ['list', '-deps', '-f', '{{with .Module}}{{.Path}}\t{{.Version}}\t{{.Dir}}{{end}}', './cmd/falda'],
  { cwd: root, encoding: 'utf8' },
)
for (const line of [...new Set(modules.split('\n'))].sort()) {
  const [name, version, dir] = line.split('\t')
  if (version) parts.push({ name, version, in: 'program', list: texts(dir) })
}
const goRoot = execFileSync(go, ['env', 'GOROOT'], { encoding: 'utf8' }).trim()
const goVersion = execFileSync(go, ['env', 'GOVERSION'], { encoding: 'utf8' }).trim()
const licence = [join(goRoot, 'LICENSE'), '/usr/share/doc/golang-go/copyright'].find((f) => existsSync(f))
parts.push({
  name: 'Go, its standard library and time zones',
  version: goVersion,
  in: 'program',
  list: licence ? [readFileSync(licence, 'utf8').trim()] : [],
})

const { build } = createRequire(join(root, 'web/package.json'))('vite')
const out = await build({ root: join(root, 'web'), logLevel: 'silent', build: { write: false } })
const packages = new Map()
for (const chunk of [out].flat().flatMap((o) => o.output)) {
  for (const id of [...Object.keys(chunk.modules ?? {}), ...(chunk.originalFileNames ?? [])]) {
    const at = id.lastIndexOf('node_modules/')
    if (at < 0) continue
    const name = id
      .slice(at + 13)
      .split('/')
      .slice(0, id[at + 13] === '@' ? 2 : 1)
      .join('/')
    const dir = id.slice(id.startsWith('/') || id.startsWith('\0') ? id.indexOf('/') : 0, at + 13) + name
    packages.set(name, dir.startsWith('/') ? dir : join(root, 'web', dir))
  }
}
// what the pages ask for by name, also where the build draws on what it is made of, or takes its fonts
for (const name of Object.keys(JSON.parse(readFileSync(join(root, 'web/package.json'), 'utf8')).dependencies))
  packages.set(name, join(root, 'web/node_modules', name))
for (const [name, dir] of [...packages].sort()) {
  const about = JSON.parse(readFileSync(join(dir, 'package.json'), 'utf8'))
  parts.push({ name, version: about.version, in: 'pages', list: texts(dir), said: about.license })
}

const lines = [
  '# What others made',
  '',
  'Falda is built from these; each is given on the terms below. Written by `make licences`.',
  '',
  '| Part | Version | In the | Licence |',
  '|---|---|---|---|',
]
const by = new Map()
let missing = 0
for (const p of parts) {
  const kind = kindOf(p.list) || p.said
  if (!kind) {
    missing++
    console.error(`${p.name}: no licence was found`)
  }
  lines.push(`| ${p.name} | ${p.version} | ${p.in} | ${kind} |`)
  for (const t of p.list.length ? p.list : [`${p.said}, as its package says; it brings no text.`])
    by.set(t, [...(by.get(t) ?? []), p.name])
}
lines.push('', '## The terms', '')
for (const [text, names] of by)
  lines.push(
    '### ' + (names.length === 1 ? names[0] : `${names[0]} and ${names.length - 1} more`),
    '',
    ...(names.length > 1 ? [...names.map((n) => `- ${n}`), ''] : []),
    '```text',
    text
      .split('\n')
      .map((l) => l.trimEnd())
      .join('\n'),
    '```',
    '',
  )
writeFileSync(join(root, 'THIRD_PARTY.md'), lines.join('\n'))
if (missing) process.exit(1)
