// The built-in families of sources, for records, bands, film and games: colour (index into the twelve hues of the
// interface) and the words that speak for them. A word with ? after it answers only where no other does, one with !
// before all others.
import type { FamilyRule } from './rows'

const rule = (family: string, colour: number, words: string, within?: string): FamilyRule => ({
  family,
  colour,
  words: words.split(',').map(w => w.trim().replace(/\s+/g, ' ')),
  ...(within ? { within } : {})
})

export const FAMILIES: readonly FamilyRule[] = [
  rule(
    'Drums',
    10,
    `drum, drums, drumkit, drum kit, kit, overhead, overheads, over head, oh, ohs, drum room, drum rooms, kit room,
     drum bus, drum loop, drum machine, drm, drms, breakbeat, break beat, knee mic, crotch mic, drum crush, drum mono,
     drum amb, drum ambience, kit mono, trash mic, room crush, room?, rooms?`
  ),
  rule(
    'Kick',
    10,
    `kick, kik, kck, kd, bd, bassdrum, bass drum, kick drum, kick in, kick out, kick sub, sub kick, subkick,
     kick room, kick trigger, kick sample, kick 808, kick top, foot drum, beater`,
    'Drums'
  ),
  rule(
    'Snare',
    10,
    `snare, snr, sn, sd, snare drum, snare top, snare bottom, snare btm, snare room, snare sample, side stick,
     sidestick, rim, rimshot, rim shot, cross stick, crosstick, clap, handclap, hand clap, snap, snaps, finger snap,
     brush snare, brushes`,
    'Drums'
  ),
  rule(
    'Toms',
    10,
    `tom, rack tom, floor tom, ft, rack?, floor?, tomtom, tom tom, roto tom, rototom, hi tom, low tom, mid tom,
     tom fl, tom rack, tom floor, octoban, gong drum`,
    'Drums'
  ),
  rule(
    'Cymbals',
    10,
    `cymbal, cym, cymb, hat, hihat, hi hat, hh, hat open, hat closed, open hat, closed hat, hho, hhc, ride, crash,
     china, splash, sizzle, ride cymbal, ride bell, crash cymbal, cymbal swell, ohh, chh, spot cymbals`,
    'Drums'
  ),
  rule(
    'Percussion',
    7,
    `perc, percussion, percs, shaker, shkr, shk, tambourine, tamb, tambo, tamborine, conga, bongo, cabasa, cajon,
     cowbell, cow bell, djembe, timbale, guiro, maraca, maracas, triangle, clave, claves, woodblock, wood block,
     block?, tabla, darbuka, doumbek, frame drum, taiko, surdo, cuica, pandeiro, udu, log drum, timpani, timp, timps,
     gong, tam tam, tamtam, chime, windchime, wind chime, bell tree, glockenspiel, glock, xylophone, xylo, vibraphone,
     vibes, marimba, crotales, tubular bells, sleigh bells, bell?, egg shaker, castanets, ratchet, stomp?,
     bass drum orch, gran cassa, concert bass drum, concert snare, agogo, caxixi, rainstick, rain stick, vibraslap,
     kalimba perc, anvil, steel pan, steel drum, heartbeat, bodhran, field drum, concert tom, drone drum, bata,
     finger cymbals, sus cymbal, suspended cymbal, piatti, crash cymbals orch, mallet, mallets, snare ensemble,
     cymbal roll`
  ),
  rule(
    'Bass',
    1,
    `bass, bs, bss, bass di, bass amp, bass gtr, bass guitar, bassguitar, bassgtr, bgtr, e bass, electric bass,
     upright bass, upright?, synth bass, bass synth, synbass, sub bass, subbass, sub?, moog bass, 808, 808 bass,
     reese, slap bass, fretless bass, bass line, bassline, acid bass, bass rig, bass cab, bass mic, bass dist,
     bass drive, double bass, bass pedal, bass pedals, fuzz bass, acoustic bass, bass sub, bass low, bass hi, bass top`
  ),
  rule(
    'Guitars',
    11,
    `guitar, gtr, gtrs, gt, gits, git, guit, gitarre, eg, ac gtr, agtr, egtr, elgtr, acgtr, ag, acoustic gtr,
     acoustic guitar, electric guitar, el gtr, rhythm gtr, lead gtr, lead guitar, gtr solo, guitar solo, nylon,
     nylon gtr, nylon string, steel string, twelve string, string acoustic, strum, acoustic?, electric?, slide gtr,
     slide guitar, slide?, pedal steel, lap steel, steel gtr, dobro, resonator, baritone gtr, baritone guitar,
     bari gtr, rhythm?, riff?, power chords, powerchords, clean gtr, dirty gtr, crunch, e guitar, a guitar, wah, ebow,
     tremolo gtr, amp?, fuzz?, ambient gtr, ambient guitar, gtr pad, guitar pad, gtr swell, gtr synth, guitar synth,
     acgt, elgt, acou, acoust?, ac gt, el gt, hi strung, nashville gtr, capo`
  ),
  rule(
    'Plucked',
    0,
    `kora, kalimba, bass kalimba, dulcimer, hammered dulcimer, harp, lute, mandolin, mando, banjo, sitar, oud,
     ukulele, uke, zither, koto, guzheng, pipa, balalaika, bouzouki, bouz, autoharp, psaltery, lyre, theorbo,
     charango, cuatro, saz, shamisen, tambura, tanpura, mbira, cimbalom, qanun, ngoni, string pluck, ronroco, vihuela`
  ),
  rule(
    'Strings',
    5,
    `violin, viola, cello, celli, cellos, strings, string, strs, str, fiddle, vln, vlns, vla, vlas, vc, vcs, vlc,
     vlns i, vn, va, violini, viole, celesti, double bass, contrabass, contrabassi, string bass, cb, basses orch,
     string quartet, quartet?, string section, strings room, viol, viola da gamba, gamba, erhu, nyckelharpa,
     hurdy gurdy, pizz, pizzicato, spiccato, string bus, vlns ii, bowed bass, arco, tremolo strings, strings pizz,
     chamber strings, string pad, bass strings, orch strings, kemenche, sarangi, violins`
  ),
  rule(
    'Keys',
    9,
    `piano, pno, pn, pf, grand, grand piano, upright piano, piano lo, piano hi, felt piano, toy piano, organ, org,
     keys, keyboard, kbd, kys, key?, rhodes, epiano, e piano, ep, elec piano, electric piano, wurli, wurlitzer, wurly,
     clav, clavinet, clavi, accordion, bandoneon, concertina, harmonium, celesta, celeste, harpsichord, hpschd,
     mellotron, leslie, tonewheel, drawbar, melodica, pump organ, pipe organ, glockenspiel keys, prepared piano,
     piano amb, piano room, spinet, chamberlin, tack piano, melotron, pianet, keys bus, organ lo, organ hi, leslie hi,
     leslie lo`
  ),
  rule(
    'Synths',
    4,
    `synth, synths, syn, synt, synth pad, synth lead, synth str, synth strings, synth brass, synth keys, synth fx,
     pad?, pads?, arp?, arpeggio?, arpeggiator, lead synth, lead syn, saw, supersaw, pluck?, plucks?, stab?, stabs?,
     chord?, chords?, poly synth, monosynth, mono synth, polysynth, modular, sequence?, seq, juno, moog, synth pluck,
     warm pad, pad synth, dark pad, choir pad, vox pad, sine?, square?, texture?, bleep, blip, blips, bells synth,
     synth bell, synth bells, granular, acid, lead arp, analog synth, hoover, vocoder synth, string machine,
     sweep synth`
  ),
  rule(
    'Brass',
    4,
    `brass, trumpet, tpt, trpt, trp, tp, trombone, tbn, trb, bone, bones, horn, horns, french horn, hrn, hn, fhn,
     tuba, flugel, flugelhorn, cornet, euphonium, cimbasso, horn section, brass section, sackbut, bass trombone, tbns,
     tpts, wagner tuba, alphorn, muted trumpet, sousaphone, low brass, brass ens, bass tuba, baritone horn, trpts,
     piccolo trumpet`
  ),
  rule(
    'Winds',
    4,
    `clarinet, flute, oboe, bassoon, sax, saxophone, alto sax, tenor sax, bari sax, baritone sax, soprano sax, saxes,
     recorder, whistle, tin whistle, glass harp, bass clarinet, contrabass flute, bass flute, alto flute,
     contrabassoon, english horn, cor anglais, eng horn, picc, piccolo, fl?, flt, ob?, cl?, clar, clt, bn, bsn, bssn,
     fg?, woodwind, woodwinds, winds, ww, shakuhachi, duduk, ney, pan flute, panpipe, panpipes, harmonica, harp mic,
     blues harp, bagpipe, bagpipes, uilleann, ocarina, didgeridoo, bansuri, quena, eb clarinet, asax, tsax, bsax,
     wind ensemble, wind section, reeds, bass cl, b cl, b fl, tenor recorder, kaval, zurna, shawm`
  ),
  rule(
    'Lead voice',
    2,
    `lead vox, lead vocal, lead voc, lead voice, ld vox, ld vocal, lv, lvox, leadvox, leadvocal, lead vx, main vox,
     main vocal, lead singer, vox lead, vocal lead, voc lead, lead vocal dbl, lead vox dbl, lead vox double,
     lead voc dbl, lead double, lead dbl, vox dbl, vocal dbl, vox double, vocal double, voc dbl, vox main, vox verse,
     vox chorus, vox hook, vox bridge, vocal main, vocal verse, vocal chorus, vox comp, vocal comp, vox lead dbl, vox,
     vocal, voc, vx, vocals, voice?, singer, sing?, rap, rapper, rap vox, rap lead, mc?, topline, top line,
     main voice, voice lead, verse vox, chorus vox, vox throw, vox whisper, vox tune, vox tuned, lead whisper,
     vocal whisper, vocal tuned, verse vocal, chorus vocal, hook vox, hook vocal, vocal chop, vox chop, vocal chops,
     adlib lead, vocal di, scratch vox, scratch vocal, guide vox, guide vocal`
  ),
  rule(
    'Backing voices',
    2,
    `bgv, bgvs, bg vox, bg vocal, bg vocals, bg voc, bgvox, bv, bvs, bvox, back vox, backing vox, backing vocal,
     backing voc, backing vocals, backing voice, backings, backing?, back voc, back vocal, background vox,
     background vocal, background vocals, background voc, harmony, harm, harms, harmony vox, harm vox, vox harm,
     vox harmony, vocal harmony, voc harm, oohs, ooh, aahs, aah, ahhs, ahs, oos, gang, gang vox, gang vocal,
     gang vocals, crowd vox, group vox, group vocal, group vocals, stacks, stack?, vox stack, vocal stack, adlib,
     ad lib, adlibs, ad libs, vox adlib, vox ad lib, vocal adlib, doo wop, shouts, shout?, hype, hypes, choir bgv,
     lead harm, lead harmony, low harm, hi harm, high harmony, low harmony, bgv choir, vox bg, vox bgv, voc bg,
     chorus bgv, vox oohs, vox aahs, vox ooh, vox aah, response vox, answer vox, octave vox, vox octave, vox oct`
  ),
  rule(
    'Choir',
    2,
    `choir, choirs, chor, soprano, sop, sops, alto, altos, tenor, tenors, baritone, basso, mezzo, choir room,
     choir bass, bass voice, bass voices, bass choir, choir sop, choir alto, choir ten, children choir, kids choir,
     gospel choir, countertenor, treble choir, trebles, choir sopranos, choir tenors, chorale, voices, men choir,
     ladies choir, boys choir, chant, choir men, choir women, schola, bass singers`
  ),
  rule(
    'Dialogue',
    6,
    `dialogue, dialog, dialogs, dia, dial, dx, dlg, boom, boom mic, lav, lavs, lavalier, adr, loop group, walla group,
     host, cohost, co host, guest, interview, interviewer, interviewee, presenter, caller, phone call, skype guest,
     remote guest, actor, actress, radio mic, plant mic, production sound, prod sound, prod dx, sync sound, wild line,
     wild lines, wildtrack dx, futz, speaker mic, panel mic, moderator, podcast mic, bark, barks, npc, hero vo,
     villain vo, combat vo, pfx, boom fixed, anchor, reporter, question mic, audience mic q, lectern, podium,
     headset mic, efforts, breaths dx`
  ),
  rule(
    'Narration',
    6,
    `narrator, narration, narr, nar, vo, v o, voiceover, voice over, voice-over, speech, announcer, announce, reader,
     audiobook, commentary, story teller, storyteller, spoken, spoken word, tutorial vo, trailer vo, vo main, vo wild,
     vo pickup, vo pickups`
  ),
  rule(
    'Effects',
    3,
    `fx?, sfx!, efx, effect?, effects?, foley!, car horn, train horn, footstep, footsteps, feet fol, steps, riser,
     risers, uplifter, downlifter, downer, whoosh, whooshes, swoosh, impact, impacts, boom hit, hit fx, hits?,
     explosion, expl, explosions, gunshot, gun, guns, weapon, weapons, sword, punch, punches, door, doors, car, cars,
     vehicle, vehicles, engine, tire skid, cloth, props, fol, fly, creature, monster, magic, ui, button click,
     menu click, click ui, pickup coin, coin, noise sweep, sweep?, noise fx, reverse cymbal, rev cymbal, reverse?,
     sub drop, subdrop, bass drop, sub boom, braam, braams, stinger, stingers, glitch?, vinyl, vinyl noise,
     white noise, noise?, scratch?, scratches, turntable, sound design, sd fx, hard fx, hardfx, design fx, bg fx,
     spot fx, transition, transitions, trans fx, drop fx, reverse fx, fill fx, laser, zap, radio static, glass break,
     debris, splash fx, water splash, gore, hit punch, drone fx, phone ring, telephone, siren, horn car,
     keyboard typing, typing, crash car, car crash, jingle?, reload, shell casing, footfall, footfalls, body fall,
     bodyfall, train, airplane, helicopter, ricochet, reverb fx, throw fx, delay throw, foley feet, foley cloth,
     foley props`
  ),
  rule(
    'Ambience',
    3,
    `lake, wind, rain, birds, bird, ambience?, ambi?, amb?, atmo, atmosphere, atm, ambiance?, drone?, bed?, sea,
     ocean, forest, jungle, city, crowd, crowds, applause, audience, aud, walla, waves, thunder, room tone, roomtone,
     rt tone, tone room, traffic, street, crickets, insects, cave, dungeon, night amb, backgrounds, bgs, bg?, river,
     stream, fire?, campfire, market, wildtrack, wild track, office amb, restaurant, cafe, background, nature, desert,
     swamp, storm, wind bed, lake bed, audience l, aud l, crowd mic, crowd mics, audience mic, audience mics, sky,
     air tone, hvac, quad amb, ambix, ambisonic, surf, harbour, harbor, playground, stadium, subway, underwater,
     windy, weather`
  ),
  rule(
    'Click',
    8,
    `click, clk!, click track, metronome!, metro, count, count in, countin, tempo click, cowbell click, cue click,
     ltc, smpte, timecode, time code, tc, pips, two pop, twopop, sync pop, slate, slates, talkback, tb, tbk, cue,
     cues, guide?, click bus, clix, clicks`
  ),
  rule(
    'Reference',
    8,
    `ref!, refs!, reference!, rough, rough mix, roughmix, ref mix, reference mix, demo mix, demo?, premaster,
     master ref, ref master, mix ref, temp, temp mix, temp music, temp mx, guide mix, guide track, two mix ref,
     old mix, prev mix, last mix, board mix, desk mix, ref track, reference track, monitor mix, instrumental ref,
     amp reference, mastered, scratch mix, edit ref, avid mix, video audio, picture audio`
  ),
  rule(
    'Prints',
    8,
    `print!, prints!, printed!, bounce!, bounced!, bnc!, freeze!, frozen!, stem?, stems?, comp print, wet print,
     reamp print, mix print, drum print, vox print, fx print, vocal print, gtr print, bass print, synth print,
     submix print, verb print, reverb print, delay print, verb return, reverb return, delay return`
  )
]
