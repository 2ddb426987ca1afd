// A thread that helps the engine with the machine that is heard, with one after the other.
import { help, type Team } from '@nullet/core/run/team'

onmessage = ({ data: port }: MessageEvent<MessagePort>) => {
  port.onmessage = ({ data: team }: MessageEvent<Team>) => help(team)
}
