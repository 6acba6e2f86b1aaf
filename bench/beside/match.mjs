// Reads rules and events that bench/match wrote, in its own form, and prints the events a second of json-rules-engine.
// Fair play: for each event only the rules of its kind, trigger and field are asked, chosen beforehand.
import { readFileSync } from 'node:fs'
import { Engine } from 'json-rules-engine'

const { rules, events } = JSON.parse(readFileSync(process.argv[2], 'utf8'))
const engines = new Map()
for (const rule of rules) {
  const key = `${rule.kind}/${rule.field}`
  if (!engines.has(key)) engines.set(key, new Engine([], { allowUndefinedFacts: true }))
  for (const conditions of rule.branches) engines.get(key).addRule({ conditions: { all: [...rule.only_if, ...conditions] }, event: { type: 'hit' } })
}
for (const engine of engines.values()) {
  engine.addOperator('startsWith', (actual, wanted) => typeof actual === 'string' && actual.toLowerCase().startsWith(wanted))
  engine.addFact('double', (_params, almanac) => almanac.factValue('size').then((size) => size * 2))
}

let hits = 0
const run = async () => {
  for (const event of events) {
    const found = await engines.get(`${event.kind}/${event.field}`).run(event.facts)
    hits += found.events.length
  }
}
await run()
hits = 0
const began = process.hrtime.bigint()
await run()
const seconds = Number(process.hrtime.bigint() - began) / 1e9
console.log(JSON.stringify({ perSecond: events.length / seconds, hits }))
