// A thread that helps with machines of another one, with one after the other.
import { parentPort } from 'node:worker_threads'
import { help, type Team } from '@nullet/core/run/team'

parentPort!.on('message', (team: Team) => help(team))
