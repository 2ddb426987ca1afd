// The commands that need no server: print, check, ping, off-site passes, loudness. Results as JSON on standard output.
import { check } from './check'
import { loudness } from './loudness'
import { offsiteFeedFile, offsiteReturnFile } from './offsite'
import { pingLoop } from './ping'
import { print } from './print'
import { Refusal } from '@nullet/core/foundation/refusal'
import { systemSentence } from './paths'

const COMMANDS: Record<string, { run(args: string[]): Promise<unknown>; usage: string }> = {
  print: {
    run: print,
    usage:
      "print PACKAGE --out DIR [--tap 'NAME[@input|pre|post]' …] [--from s] [--to s] [--depth 16|24|32f] [--seed n] [--threads 1|2] [--verify none|fast|full] [--quiet]"
  },
  check: { run: check, usage: 'check PACKAGE' },
  ping: { run: pingLoop, usage: 'ping PACKAGE --loop NAME [--level dBFS] [--averages 1…16] [--seed n]' },
  'offsite-feed': { run: offsiteFeedFile, usage: 'offsite-feed FILE --out FEED [--tail s]' },
  'offsite-return': { run: offsiteReturnFile, usage: 'offsite-return RETURNED --feed FEED --out FILE' },
  loudness: { run: loudness, usage: 'loudness FILE' }
}

const [name, ...args] = process.argv.slice(2)
const command = COMMANDS[name]
try {
  if (!command) throw new Refusal('badArguments', `There is no command “${name ?? ''}”. There are:`)
  if (args.includes('--help')) console.log(`nullet ${command.usage}`)
  else console.log(JSON.stringify(await command.run(args), (_, v) => (v === -Infinity ? null : v), 2))
} catch (error) {
  const say = (message: string, kept = '') => console.error(`nullet ${name ?? ''}: ${message}${kept && `\n${kept}`}`)
  const system = systemSentence(error)
  if (error instanceof Refusal) {
    say(error.message, error.kept === 'Nothing was changed.' ? '' : error.kept)
    if (error.kind === 'badArguments')
      console.error(
        command
          ? `usage: nullet ${command.usage}`
          : Object.values(COMMANDS)
              .map(c => `  nullet ${c.usage}`)
              .join('\n')
      )
  } else if (system) say(system)
  else console.error(error)
  process.exitCode = 1
}
