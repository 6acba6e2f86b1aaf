import type { Field, Kind } from '@/state/setup'

/** Fields of a kind that its list shows unless others are chosen. */
const OWN = 5

/**
 * The columns of a list, the title first.
 * @param chosen keys with commas, as the address says it; empty for the usual ones. What is gone is left out.
 */
export function columnsOf(kind: Kind, chosen: string): Field[] {
  const by = (key: string) => kind.fields.filter((field) => field.key === key)
  if (chosen) {
    const keys = ['title', ...chosen.split(',').filter((key) => key !== 'title')]
    return [...new Set(keys)].flatMap(by)
  }
  const all = kind.fields.filter((field) => !field.built_in && field.type !== 'long_text')
  // Worked-out fields are what lists are sorted by; they stand behind the first others.
  const own = [...all.filter((field) => !field.formula).slice(0, OWN), ...all.filter((field) => field.formula)]
  return [...by('title'), ...(kind.stages.length ? by('stage') : []), ...own, ...by('owner'), ...by('changed')]
}
