import { readTemplate } from '@nullet/core/formats/template'
import { templates } from '../../../store/templates'
import { keepOn } from '../../../utils/shelfRoutes'

export default keepOn(templates, readTemplate)
