// All verbs.
import { addKey } from './addKey'
import { addMainFeed } from './addMainFeed'
import { addPortFeed } from './addPortFeed'
import { addRows } from './addRows'
import { addSend } from './addSend'
import { addSlot } from './addSlot'
import { addCable, removeCable } from './cables'
import { createBus } from './createBus'
import { createChannels } from './createChannels'
import { createSubmix } from './createSubmix'
import { duplicateChannels } from './duplicateChannels'
import type { Edit } from './edit'
import { removeLink, setLink } from './links'
import { moveGain } from './moveGain'
import { moveLevels } from './moveLevels'
import { moveSlot } from './moveSlot'
import { removeChannels } from './removeChannels'
import { removeFeeds } from './removeFeeds'
import { removeLoop } from './removeLoop'
import { removeSlot } from './removeSlot'
import { renameChannels } from './renameChannels'
import { revert } from './revert'
import { setChannels } from './setChannels'
import { setFeeds } from './setFeeds'
import { setInterface } from './setInterface'
import { setLayout } from './setLayout'
import { setLoop } from './setLoop'
import { setMainFeed } from './setMainFeed'
import { setSession } from './setSession'
import { setSlot } from './setSlot'
import { setUnit } from './setUnit'
import { several } from './several'
import { silentTrigger } from './silentTrigger'
import { writeCrosspoints } from './writeCrosspoints'

export const EDITS: Record<string, Edit> = Object.fromEntries(([
  addCable, addKey, addMainFeed, addPortFeed, addRows, addSend, addSlot, createBus, createChannels, createSubmix,
  duplicateChannels, moveGain, moveLevels, moveSlot, removeCable, removeChannels, removeFeeds, removeLink, removeLoop,
  removeSlot, renameChannels, revert, setChannels, setFeeds, setInterface, setLayout, setLink, setLoop, setMainFeed, setSession,
  setSlot, setUnit, several, silentTrigger, writeCrosspoints
] as Edit[]).map(e => [e.verb, e]))
