// What a bench can be told, declared once: the keyboard, the touch keys and the help are made of it.

export interface BenchKey {
  key: string
  name: string
  help: string
  run: () => unknown
  group: 'weigh' | 'weight' | 'piece' | 'back' | 'end' | 'more'
  off?: boolean
  on?: boolean
  /** It has no letter of its own. */
  mute?: boolean
}
