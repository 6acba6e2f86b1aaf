import { expect, it } from 'vitest'
import { newsOf } from './news'

it('tells what changed, or that everything has to be looked at again', () => {
  expect(newsOf('{"records":[1],"tasks":[]}')).toEqual({ records: [1], tasks: [] })
  expect(newsOf('{"clock":true,"records":[],"tasks":[]}')).toMatchObject({ clock: true })
  expect(newsOf('{"all":true}')).toBeNull()
})
