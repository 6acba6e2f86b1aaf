import { describe, expect, it } from 'vitest'
import { addDays, clockOf, dayOf, daysBetween, showDay } from './dates'

describe('dates by the wall clock of the yard', () => {
  it('takes the local day and time of a moment, also around midnight and in summer', () => {
    const moment = new Date('2026-07-01T23:30:00Z')
    expect([dayOf(moment, 'Europe/Dublin'), clockOf(moment, 'Europe/Dublin')]).toEqual(['2026-07-02', '00:30'])
    expect(dayOf(moment, 'America/New_York')).toBe('2026-07-01')
  })

  it('shows a day with its weekday, and with the year when that is another', () => {
    expect(showDay('2026-12-03', '2026-11-24')).toBe('Thu 3 Dec')
    expect(showDay('2027-01-04', '2026-11-24')).toBe('Mon 4 Jan 2027')
  })

  it('counts days over the change of the clock and the year', () => {
    expect(daysBetween('2026-10-24', '2026-10-26')).toBe(2)
    expect(daysBetween('2027-01-02', '2026-12-31')).toBe(-2)
    expect(addDays('2028-02-28', 1)).toBe('2028-02-29')
  })
})
