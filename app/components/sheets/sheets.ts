// All sheets by name: commands and menus open them by it.
import type { Component } from 'vue'
import ChannelsSheet from './ChannelsSheet.vue'
import DuplicateSheet from './DuplicateSheet.vue'
import FamiliesSheet from './FamiliesSheet.vue'
import GainSheet from './GainSheet.vue'
import OffsiteSheet from './OffsiteSheet.vue'
import PairsSheet from './PairsSheet.vue'
import ProposeSheet from './ProposeSheet.vue'
import ReampSheet from './ReampSheet.vue'
import ReceiverSheet from './ReceiverSheet.vue'
import RigLibrarySheet from './RigLibrarySheet.vue'
import RigSheet from './RigSheet.vue'
import StorageSheet from './StorageSheet.vue'
import StacksSheet from './StacksSheet.vue'
import TableSheet from './TableSheet.vue'
import TempoSheet from './TempoSheet.vue'
import TemplatesSheet from './TemplatesSheet.vue'

export const SHEETS: Record<string, { title: string; width: number; component: Component }> = {
  channels: { title: 'New channels', width: 520, component: ChannelsSheet },
  duplicate: { title: 'Duplicate', width: 460, component: DuplicateSheet },
  families: { title: 'Words for families', width: 820, component: FamiliesSheet },
  gain: { title: 'Move gain without changing the sound', width: 560, component: GainSheet },
  offsite: { title: 'A pass outside, by files', width: 600, component: OffsiteSheet },
  pairs: { title: 'Pairs of mono tracks', width: 680, component: PairsSheet },
  propose: { title: 'A network proposed from families', width: 720, component: ProposeSheet },
  reamp: { title: 'Re-amp', width: 560, component: ReampSheet },
  receiver: { title: 'For a receiver', width: 620, component: ReceiverSheet },
  rig: { title: 'A new rig', width: 720, component: RigSheet },
  rigs: { title: 'Rig library', width: 780, component: RigLibrarySheet },
  storage: { title: 'Audio that this session keeps', width: 720, component: StorageSheet },
  stacks: { title: 'Takes of one source', width: 720, component: StacksSheet },
  table: { title: 'Crosspoints as a table', width: 680, component: TableSheet },
  tempo: { title: 'Tempo', width: 440, component: TempoSheet },
  templates: { title: 'Templates', width: 760, component: TemplatesSheet }
}
