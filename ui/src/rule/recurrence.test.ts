import { describe, expect, it } from 'vitest'
import { readRecurrence, writeRecurrence } from './recurrence'

describe('the form of a recurrence', () => {
  it.each([
    'FREQ=DAILY',
    'FREQ=DAILY;INTERVAL=3;COUNT=4',
    'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH',
    'FREQ=MONTHLY;BYMONTHDAY=1,15',
    'FREQ=MONTHLY;BYMONTHDAY=-1;UNTIL=20270301',
    'FREQ=MONTHLY;BYDAY=2TU',
    'FREQ=MONTHLY;BYDAY=-1FR',
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1',
    'FREQ=YEARLY;BYMONTH=3,9;BYMONTHDAY=1',
  ])('reads and writes %s alike', (source) => {
    expect(writeRecurrence(readRecurrence(source)!)).toBe(source)
  })

  it.each(['FREQ=YEARLY;BYWEEKNO=20', 'FREQ=YEARLY;BYYEARDAY=100', 'FREQ=MONTHLY;BYDAY=MO,TU;BYSETPOS=1', 'nonsense'])(
    'leaves %s to be written by hand',
    (source) => expect(readRecurrence(source)).toBeNull(),
  )
})
