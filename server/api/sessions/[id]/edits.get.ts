import { getQuery, getRouterParam } from 'h3'
import { z } from 'zod'
import { store } from '../../../store/connect'
import { editsSince } from '../../../store/sessions'
import { defineRoute } from '../../../utils/route'

export default defineRoute(event =>
  editsSince(store(), getRouterParam(event, 'id')!, z.coerce.number().int().parse(getQuery(event).since)))
