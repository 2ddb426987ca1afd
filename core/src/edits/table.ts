// All verbs.
import { addKey } from './addKey'
import { addPortFeed } from './addPortFeed'
import { addRows } from './addRows'
import { addSend } from './addSend'
import { addSlot } from './addSlot'
import { addCable, removeCable } from './cables'
import { createBus } from './createBus'
import { createSubmix } from './createSubmix'
import { moveLevels } from './moveLevels'
import { removeChannels } from './removeChannels'
import { removeFeeds } from './removeFeeds'
import { removeLoop } from './removeLoop'
import { removeSlot } from './removeSlot'
import { renameChannels } from './renameChannels'
import { revert } from './revert'
import { setChannels } from './setChannels'
import { setFeeds } from './setFeeds'
import { setLoop } from './setLoop'
import { setMainFeed } from './setMainFeed'
import { setSession } from './setSession'
import { setSlot } from './setSlot'
import { setUnit } from './setUnit'
import { writeCrosspoints } from './writeCrosspoints'
import type { Edit } from './edit'

export const EDITS: Record<string, Edit> = Object.fromEntries(([
  addCable, addKey, addPortFeed, addRows, addSend, addSlot, createBus, createSubmix, moveLevels, removeCable,
  removeChannels, removeFeeds, removeLoop, removeSlot, renameChannels, revert, setChannels, setFeeds, setLoop, setMainFeed,
  setSession, setSlot, setUnit, writeCrosspoints
] as Edit[]).map(e => [e.verb, e]))
