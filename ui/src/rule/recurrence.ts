/** A recurrence (RFC 5545) as the editor shows it; `other` holds what it has no form for. */
export type Recurring = {
  every: number
  unit: 'DAILY' | 'WEEKLY' | 'MONTHLY' | 'YEARLY'
  weekdays: string[]
  /** Which day of a month or year: by its number, or by its place among weekdays. */
  by: 'day' | 'place'
  days: number[]
  place: number
  weekday: string
  months: number[]
  end: 'never' | 'until' | 'count'
  until: string
  count: number
}

export const WEEKDAYS = [
  { value: 'MO', words: 'Monday' },
  { value: 'TU', words: 'Tuesday' },
  { value: 'WE', words: 'Wednesday' },
  { value: 'TH', words: 'Thursday' },
  { value: 'FR', words: 'Friday' },
  { value: 'SA', words: 'Saturday' },
  { value: 'SU', words: 'Sunday' },
]
const WORKDAYS = 'MO,TU,WE,TH,FR'
const UNITS = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY']

const blank = (): Recurring => ({
  every: 1,
  unit: 'MONTHLY',
  weekdays: [],
  by: 'day',
  days: [],
  place: 1,
  weekday: 'MO',
  months: [],
  end: 'never',
  until: '',
  count: 10,
})

/** Reads a recurrence into the form; null when the form has no place for all of it. */
export function readRecurrence(source: string): Recurring | null {
  const parts = Object.fromEntries(
    source
      .replace(/^RRULE:/i, '')
      .toUpperCase()
      .split(';')
      .map((part) => part.split('=') as [string, string]),
  )
  const known = ['FREQ', 'INTERVAL', 'BYDAY', 'BYMONTHDAY', 'BYMONTH', 'BYSETPOS', 'UNTIL', 'COUNT', 'WKST']
  if (!UNITS.includes(parts.FREQ ?? '') || Object.keys(parts).some((name) => !known.includes(name))) return null
  const form = blank()
  form.unit = parts.FREQ as Recurring['unit']
  form.every = Number(parts.INTERVAL ?? 1)
  form.months = (parts.BYMONTH ?? '').split(',').filter(Boolean).map(Number)
  form.days = (parts.BYMONTHDAY ?? '').split(',').filter(Boolean).map(Number)
  if (parts.UNTIL) {
    form.end = 'until'
    form.until = `${parts.UNTIL.slice(0, 4)}-${parts.UNTIL.slice(4, 6)}-${parts.UNTIL.slice(6, 8)}`
  } else if (parts.COUNT) {
    form.end = 'count'
    form.count = Number(parts.COUNT)
  }
  if (!parts.BYDAY) return parts.BYSETPOS ? null : form
  if (form.days.length) return null
  if (['DAILY', 'WEEKLY'].includes(form.unit)) {
    form.weekdays = parts.BYDAY.split(',')
    return parts.BYSETPOS || form.weekdays.some((day) => day.length > 2) ? null : form
  }
  form.by = 'place'
  const placed = /^([+-]?\d)(MO|TU|WE|TH|FR|SA|SU)$/.exec(parts.BYDAY)
  if (placed) {
    form.place = Number(placed[1])
    form.weekday = placed[2]!
    return parts.BYSETPOS ? null : form
  }
  if (!/^-?\d$/.test(parts.BYSETPOS ?? '')) return null
  form.place = Number(parts.BYSETPOS)
  form.weekday = parts.BYDAY === WORKDAYS ? 'work' : parts.BYDAY
  return form.weekday.length === 2 || form.weekday === 'work' ? form : null
}

/** Writes the form as a recurrence. */
export function writeRecurrence(form: Recurring): string {
  const parts = [`FREQ=${form.unit}`]
  if (form.every > 1) parts.push(`INTERVAL=${form.every}`)
  if (form.unit === 'WEEKLY' && form.weekdays.length)
    parts.push(`BYDAY=${WEEKDAYS.map((day) => day.value).filter((day) => form.weekdays.includes(day))}`)
  if (form.unit === 'DAILY' && form.weekdays.length) parts.push(`BYDAY=${form.weekdays}`)
  if (['MONTHLY', 'YEARLY'].includes(form.unit)) {
    if (form.months.length) parts.push(`BYMONTH=${form.months}`)
    if (form.by === 'day' && form.days.length) parts.push(`BYMONTHDAY=${form.days}`)
    if (form.by === 'place' && form.weekday === 'work') parts.push(`BYDAY=${WORKDAYS}`, `BYSETPOS=${form.place}`)
    else if (form.by === 'place') parts.push(`BYDAY=${form.place}${form.weekday}`)
  }
  if (form.end === 'until' && form.until) parts.push(`UNTIL=${form.until.replaceAll('-', '')}`)
  if (form.end === 'count') parts.push(`COUNT=${form.count}`)
  return parts.join(';')
}
