// All verbs.
import { dictionaryBy } from '../foundation/dictionary'
import { Refusal } from '../foundation/refusal'
import { keepable } from '../foundation/text'
import { addKey } from './addKey'
import { addMainFeed } from './addMainFeed'
import { addPortFeed } from './addPortFeed'
import { addRows } from './addRows'
import { addSend } from './addSend'
import { addSlot } from './addSlot'
import { addCable, removeCable, setCable } from './cables'
import { copyEnvelopes } from './copyEnvelopes'
import { createBus } from './createBus'
import { createChannels } from './createChannels'
import { createSubmix } from './createSubmix'
import { cropClips, repeatClip, wholeClips } from './cropClips'
import { spliceTakes } from './spliceTakes'
import { keepProof } from './keepProof'
import { acceptFaults, mendPrint } from './mendPrint'
import { duplicateChannels } from './duplicateChannels'
import type { Edit } from './edit'
import { joinTracks } from './joinTracks'
import { removeLink, setLink } from './linkStrips'
import { moveGain } from './moveGain'
import { moveLevels } from './moveLevels'
import { moveSlot } from './moveSlot'
import { placeClips } from './placeClips'
import { removeChannels } from './removeChannels'
import { removeMedia } from './removeMedia'
import { removeEnvelopes } from './removeEnvelopes'
import { removeFeeds } from './removeFeeds'
import { removeLoop } from './removeLoop'
import { removeSlot } from './removeSlot'
import { removeUnit } from './removeUnit'
import { renameChannels } from './renameChannels'
import { revert } from './revert'
import { matchRig, removeRig, setRig } from './rigs'
import { setChannels } from './setChannels'
import { setEnvelope } from './setEnvelope'
import { setFeeds } from './setFeeds'
import { setInterface } from './setInterface'
import { setLayout } from './setLayout'
import { setLoop } from './setLoop'
import { setMainFeed } from './setMainFeed'
import { removePhrases, setPhrase } from './setPhrase'
import { setPort } from './setPort'
import { setSession } from './setSession'
import { setSlot } from './setSlot'
import { setUnit } from './setUnit'
import { severalOf } from './several'
import { silentTrigger } from './silentTrigger'
import { splitTracks } from './splitTracks'
import { gatherTakes, hearTake, removeTakes, setTakes, stackTakes } from './takes'
import { writeCrosspoints } from './writeCrosspoints'

const EDITS: Record<string, Edit> = dictionaryBy(
  [
    addCable,
    addKey,
    addMainFeed,
    addPortFeed,
    addRows,
    addSend,
    addSlot,
    copyEnvelopes,
    createBus,
    createChannels,
    createSubmix,
    cropClips,
    keepProof,
    acceptFaults,
    mendPrint,
    duplicateChannels,
    gatherTakes,
    hearTake,
    joinTracks,
    matchRig,
    moveGain,
    moveLevels,
    moveSlot,
    placeClips,
    removeCable,
    setCable,
    removeChannels,
    removeEnvelopes,
    removeFeeds,
    removeLink,
    removeLoop,
    removeMedia,
    removePhrases,
    removeRig,
    removeSlot,
    removeTakes,
    removeUnit,
    renameChannels,
    repeatClip,
    revert,
    setChannels,
    setEnvelope,
    setFeeds,
    setInterface,
    setLayout,
    setLink,
    setLoop,
    setMainFeed,
    setPhrase,
    setPort,
    setRig,
    setSession,
    setSlot,
    setTakes,
    setUnit,
    severalOf(editCalled),
    silentTrigger,
    spliceTakes,
    splitTracks,
    stackTakes,
    wholeClips,
    writeCrosspoints
  ] as Edit[],
  edit => edit.verb
)

/** @throws Refusal where no verb is called so */
export function editCalled(verb: string): Edit {
  const edit = EDITS[verb]
  if (!edit) throw new Refusal('badArguments', `There is no edit called “${keepable(verb).slice(0, 60)}”`)
  return edit
}
