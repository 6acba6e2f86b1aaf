import type { Kind } from '@/state/setup'
import type { paths } from '@/api/schema'

type Answer = paths['/api/search']['get']['responses'][200]['content']['application/json']
export type Sort = Answer['sorts'][number]
export type Found = Sort['found'][number]

/** What each sort is called, in the order in which they are shown. */
export const SORT_WORDS: Record<Sort['sort'], string> = {
  records: 'Records',
  tasks: 'Tasks',
  notes: 'Notes, calls and mails',
  people: 'People',
  rules: 'Rules',
  kits: 'Kits',
}

/** Where something that was found is looked at. */
export function placeOf(sort: Sort['sort'], one: Found): string {
  switch (sort) {
    case 'records':
      return `/record/${one.id}`
    case 'notes':
      return `/record/${one.record}`
    case 'tasks':
      return `/worklist?who=all&task=${one.id}`
    case 'rules':
      return `/rules/${one.id}`
    case 'kits':
      return `/kits/${one.id}`
    default:
      return `/worklist?who=${one.id}`
  }
}

/** Pages that are gone to by name. */
export const pagesOf = (kinds: Kind[], may: { lead: boolean; set: boolean }) => [
  { to: '/worklist', words: 'Worklist' },
  { to: '/rules', words: 'Rules' },
  { to: '/kits', words: 'Kits' },
  { to: '/trail', words: 'Trail' },
  ...(may.lead ? [{ to: '/team', words: 'Team' }] : []),
  { to: '/notices', words: 'Notices' },
  { to: '/me', words: 'Your page' },
  { to: '/tables', words: 'Tables brought in' },
  { to: '/trash', words: 'Trash' },
  { to: '/duplicates/contact', words: 'Duplicates' },
  { to: '/bulk', words: 'Many at once' },
  ...(may.set ? [{ to: '/setup', words: 'Set-up' }] : []),
  ...kinds.map((kind) => ({ to: `/records/${kind.key}`, words: kind.plural })),
]

/** Those pages of which a word begins as each word that is asked for does. */
export function pagesNamed(pages: { to: string; words: string }[], text: string) {
  const asked = text.toLowerCase().split(/\s+/).filter(Boolean)
  return pages.filter((page) => {
    const words = page.words.toLowerCase().split(/\s+/)
    return asked.every((one) => words.some((word) => word.startsWith(one)))
  })
}
