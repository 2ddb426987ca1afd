// The compiler's check of indexed access, for the floors of core that handle rows. Loops over samples, where an index
// is a sample's number, are not asked. The compiler knows such a check only for a whole program: hence these lines.
import { join, relative } from 'node:path'
import ts from 'typescript'
import { root } from './state.mjs'

const FLOORS = ['session', 'graph', 'edits', 'checks', 'invariants']

const file = join(root, 'core/tsconfig.json')
const { options, fileNames } = ts.parseJsonConfigFileContent(
  ts.readConfigFile(file, ts.sys.readFile).config,
  ts.sys,
  join(root, 'core')
)
const program = ts.createProgram(fileNames, { ...options, noUncheckedIndexedAccess: true })
const asked = program
  .getSourceFiles()
  .filter(source => FLOORS.some(floor => source.fileName.startsWith(join(root, 'core/src', floor, '/'))))
const faults = asked.flatMap(source => program.getSemanticDiagnostics(source))
for (const { file: where, start, messageText } of faults) {
  const { line, character } = where.getLineAndCharacterOfPosition(start)
  const message = ts.flattenDiagnosticMessageText(messageText, '\n')
  console.error(`${relative(root, where.fileName)}:${line + 1}:${character + 1} ${message}`)
}
process.exit(faults.length ? 1 : 0)
