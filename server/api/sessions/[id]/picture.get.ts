import { networkPicture } from '@nullet/core/graph/networkPicture'
import { store } from '../../../store/connect'
import { loadSession } from '../../../store/sessions'
import { defineRoute, idOf } from '../../../utils/route'

/** The session's network as a small picture, for the list of sessions. */
export default defineRoute(async event => networkPicture((await loadSession(store(), idOf(event, 'session'))).session))
