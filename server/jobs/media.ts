// `nullet doctor --media`: audio in the database that lacks blocks, and what heals it.
import { connectStore } from '../store/connect'
import { brokenMedia } from '../store/media'

const sql = connectStore(undefined, 1)
try {
  const broken = await brokenMedia(sql)
  for (const m of broken)
    console.log(
      `hole     ${m.names.map(n => `“${n}”`).join(', ') || 'audio of no session'} (${m.sha256.slice(0, 12)}, ${m.legs} ${m.legs === 1 ? 'leg' : 'legs'}): ${m.has} of ${m.wants} blocks. Bring the same file in again and it is whole.`
    )
  if (!broken.length) console.log('there    all audio is whole')
  process.exitCode = broken.length ? 1 : 0
} catch (error) {
  console.error(`nullet: the database does not answer (${(error as Error).message}). ./nullet start starts it.`)
  process.exitCode = 1
} finally {
  await sql.end({ timeout: 1 })
}
