import postgres from 'postgres'
import { readFileSync } from 'node:fs'
const sql = postgres(readFileSync('.nullet/database-url', 'utf8').trim())
await sql`delete from session_head where id in ('orrin','full-dome')`
await sql.end()
