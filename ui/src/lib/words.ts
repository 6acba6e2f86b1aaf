const WAYS: Record<string, string> = {
  call: 'Call',
  email: 'E-mail',
  letter: 'Letter',
  visit: 'Visit',
  check: 'Check',
  other: 'Other',
  note: 'Note',
  meeting: 'Meeting',
}
const HOW_OFTEN: Record<string, string> = {
  every_time: 'Every time',
  once_per_task: 'Once per task',
  once_per_record: 'Once per record',
  once_per_visit: 'Once per visit to the stage',
  once_in_days: 'At most once in some days',
}
const UNITS: Record<string, string> = {
  minutes: 'minutes',
  hours: 'hours',
  working_hours: 'working hours',
  days: 'calendar days',
  working_days: 'working days',
  weeks: 'weeks',
  months: 'months',
}
const SHORT_UNITS: Record<string, string> = {
  minutes: 'min',
  hours: 'h',
  working_hours: 'working h',
  days: 'cal. days',
  working_days: 'wd',
  weeks: 'weeks',
  months: 'months',
}
const DAY_OFF: Record<string, string> = { later: 'moves later', earlier: 'moves earlier', stays: 'stays' }

/** "Call", "E-mail" and so on. */
export const wayWords = (way: string) => WAYS[way] ?? way
/** A day that is looked for: "Friday", "working day", "15th" for a day of the month. */
export function firstDayWords(day: string | number): string {
  if (typeof day === 'number') return `day ${day} of a month`
  return day === 'working_day' ? 'working day' : sentenceCase(day)
}
export const howOftenWords = (name: string) => HOW_OFTEN[name] ?? name
export const unitWords = (unit: string) => UNITS[unit] ?? unit
export const shortUnit = (unit: string) => SHORT_UNITS[unit] ?? unit
/** The unit as it stands behind a number: "working days", "working day" for one. */
export const unitCount = (unit: string, count: number) =>
  count === 1 ? unit.replaceAll('_', ' ').replace(/s$/, '') : unit.replaceAll('_', ' ')
export const dayOffWords = (way: string) => DAY_OFF[way] ?? way

/** More than one of it: "Stages", "Statuses". */
export const several = (word: string) => (word.endsWith('s') ? `${word}es` : `${word}s`)

/** First letter large. */
export const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** "1 task", "3 tasks"; the plural is given when it is not just an s. */
export const counted = (count: number, one: string, many = `${one}s`) =>
  `${count.toLocaleString('en-GB')} ${count === 1 ? one : many}`

/** "MO" for Maren Oduya. */
export const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((word) => word.charAt(0))
    .join('')
    .slice(0, 2)
    .toUpperCase()

/** A sum as people write it: "€4,350", and "SEK 4,350" where the sign is letters. */
export function moneyWords(value: number, sign: string | null | undefined) {
  const shown = sign ?? '€'
  return `${shown}${/\p{L}$/u.test(shown) ? ' ' : ''}${value.toLocaleString('en-GB')}`
}
