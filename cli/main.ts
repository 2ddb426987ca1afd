// The commands that need no server: print, check, ping, loudness. Results as JSON on standard output.
import { check } from './check'
import { loudness } from './loudness'
import { pingLoop } from './ping'
import { print } from './print'
import { Refusal } from '@nullet/core/foundation/refusal'

const COMMANDS: Record<string, { run(args: string[]): Promise<unknown>, usage: string }> = {
  print: { run: print, usage: "print PACKAGE --out DIR [--tap 'NAME[@input|pre|post]' …] [--from s] [--to s] [--depth 24|32f] [--seed n] [--threads 1|2]" },
  check: { run: check, usage: 'check PACKAGE' },
  ping: { run: pingLoop, usage: 'ping PACKAGE --loop NAME' },
  loudness: { run: loudness, usage: 'loudness FILE' }
}

const [name, ...args] = process.argv.slice(2)
const command = COMMANDS[name]
try {
  if (!command) throw new Refusal('badArguments', `There is no command “${name ?? ''}”. There are:\n${Object.values(COMMANDS).map(c => `  nullet ${c.usage}`).join('\n')}`)
  if (args.includes('--help')) console.log(`nullet ${command.usage}`)
  else console.log(JSON.stringify(await command.run(args), (_, v) => v === -Infinity ? null : v, 2))
} catch (error) {
  if (error instanceof Refusal) console.error(`nullet ${name ?? ''}: ${error.message}\n${error.kept}${error.kind === 'badArguments' && command ? `\nusage: nullet ${command.usage}` : ''}`)
  else console.error(error)
  process.exitCode = 1
}
