import { useSetup } from '@/state/setup'

const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** The local day of a moment, such as "2026-12-03", in an IANA zone. */
export function dayOf(moment: Date, zone: string): string {
  return new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' }).format(
    moment,
  )
}

/** The wall clock of a moment, such as "09:00", in an IANA zone. */
export function clockOf(moment: Date, zone: string): string {
  return new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' }).format(moment)
}

/** A day as people read it: "Thu 3 Dec", with the year when that is not the year of `today`. */
export function showDay(day: string, today: string): string {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  const weekday = WEEKDAYS[new Date(Date.UTC(year, month - 1, date)).getUTCDay()]
  const text = `${weekday} ${date} ${MONTHS[month - 1]}`
  return year === Number(today.slice(0, 4)) ? text : `${text} ${year}`
}

/** Days from one day to another, negative when the other is earlier. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000)
}

/** A day some days later. */
export function addDays(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)
}

/** Dates in the zone and by the clock of the server. */
export function useDates() {
  const { zone, shownZone, now } = useSetup()
  const today = () => dayOf(now(), zone.value)
  return {
    today,
    day: (day: string) => showDay(day, today()),
    /** "Wed 18 Nov 16:40" */
    moment: (iso: string) =>
      `${showDay(dayOf(new Date(iso), shownZone.value), today())} ${clockOf(new Date(iso), shownZone.value)}`,
    /** By the clock of the house, as people write when something is due. */
    clock: (iso: string) => clockOf(new Date(iso), zone.value),
  }
}
