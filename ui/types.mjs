// Writes the types of the API from its description. A text that is one of the names of a registry (x-names there) gets
// the type of those names, which `bin/yenvo schema names` writes; so the compiler asks for what an editor lacks.
import { writeFile } from 'node:fs/promises'
import openapiTS, { astToString } from 'openapi-typescript'
import ts from 'typescript'

const names = new Set()
const tree = await openapiTS(new URL('../lib/yenvo/web/openapi.yaml', import.meta.url), {
  transform(schema) {
    if (schema.format === 'binary') return ts.factory.createTypeReferenceNode('Blob')
    const name = schema['x-names']
    if (!name) return undefined
    names.add(name)
    return ts.factory.createTypeReferenceNode(name)
  },
})
const from = `import type { ${[...names].sort().join(', ')} } from '../rule/names'\n\n`
await writeFile(new URL('src/api/schema.d.ts', import.meta.url), from + astToString(tree))
