// Names as files are called in six kinds of sessions, and the family that an engineer would put them in; empty where
// the name alone does not say.
const names = (lines: string): [string, string][] =>
  lines
    .trim()
    .split('\n')
    .flatMap(line => {
      const [family = '', list = ''] = line.trim().split(/\s*:\s*/)
      return list.split(/\s*;\s*/).map((name): [string, string] => [name, family === '-' ? '' : family])
    })

export const FAMILY_NAMES: Record<string, [string, string][]> = {
  record: names(`
    Kick: Kick In; 01 Kick Out; BD_sub; KickTrig.01; Kik 91
    Snare: Snare Top; SNR_btm; 03_SnareBot; Snare Smpl; Rim_01
    Toms: Rack Tom 1; Floor Tom; Tom3; T.Tom_hi
    Cymbals: HiHat; HH_02; Ride; Crash R
    Drums: OH L; OH_R; Overheads; Drum Room Mono; Drums Crush; Kit_Stereo; Knee Mic
    Percussion: Tamb_Chorus; Shaker L; Congas Hi; Cowbell!
    Bass: Bass DI; BassAmp_57; Bs Sansamp; Fuzz Bass
    Guitars: Gtr 1 L; Gtr1_R; EGtr_Rhythm; AcGtr_03; Lead Gtr Solo; Gtr-Clean (dbl); Nylon_st; Baritone Gtr; SlideGtr
    Keys: Rhodes_DI; Piano Lo; B3 Organ Hi; Wurli_2
    Lead voice: Lead Vox; LeadVox_dbl; LV Comp 3; Vox_Verse_2
    Backing voices: BGV 1; BGV_hi_L; Gang Vox; Oohs_02; Harm Low
    Click: Click; CLK_120
    Reference: Rough Mix_v3; Ref L
    -: Audio 01; New Recording 4
  `),
  electronic: names(`
    Kick: Kick 909; KICK_punchy_F#; SubKick
    Snare: Clap 2; Snare_Roll_Build; Snaps
    Cymbals: Open Hat; Closed Hat 16ths; Ride_loop; HatsTop
    Toms: Tom fill 909
    Drums: Drum Loop 124; Breakbeat_amen-ish; DrumMachine full
    Percussion: Perc Loop 03; Bongo_groove; Shaker 16
    Bass: 808; Reese Bass; SubBass_mono; Acid bass; Sub 1
    Synths: Supersaw L; Lead Synth 2; Synth Pad warm; Arp_16th; PluckSynth; Stabs; Juno_chords; Pad 4; Synth Strings; Moog Lead
    Keys: EPiano; Grand Piano_house; Organ stab
    Lead voice: Vocal Chop 1; LeadVocal_Tuned; Vox Whisper; Topline_final
    Backing voices: BG Vocals; Adlibs 2; Vocal Stack hi
    Effects: Riser 8bar; Downlifter; Whoosh_02; White Noise Sweep; Impact_long; Reverse Cymbal; Vinyl Noise; SubDrop
    Guitars: Guitar funk loop; Gtr_muted_wah
    Strings: Strings_Pizz; Violin hook
    Brass: Brass Stab; TrumpetRiff
    Ambience: Rain texture; City ambience
    Prints: Synth Print 2; Kick bounce
    -: Layer 3; Untitled
  `),
  orchestra: names(`
    Strings: Violins I; Violin II close; Vln1_spot; Vla_03; Violas; Celli spot; VC 2; Contrabass spot; Strings Room; Spiccato ens; String Quartet
    Winds: Flute 1; Piccolo; Oboe 2; Cor Anglais; Clarinet in A; BassClarinet; Bassoon 1; Contrabassoon; WW Spot; Alto Flute; Shakuhachi solo
    Brass: Horn 1-2; French Horns; Trumpets; Tpt_3; Trombone 2; Bass Trombone; Tuba; Cimbasso; Low Brass
    Percussion: Timpani; Bass Drum Orch; Glockenspiel; Xylophone; Tubular Bells; Snare Ensemble; Tam-tam; Suspended Cymbal; Taiko_ens; Marimba
    Plucked: Harp L; Harp close; Koto; Mandolin
    Keys: Celesta; Piano orch; Harpsichord; Pipe Organ
    Choir: Sopranos; Altos; Tenor 2; Choir Men; Choir L; Boys Choir
    Lead voice: Solo Singer; Vocal solo
    Click: Click Track; Metronome
    Synths: Synth Pulse; Warm Pad
    Reference: Temp Mx; Mix Ref
    -: Decca tree L; Main C; Stage 3
  `),
  acoustic: names(`
    Bass: Upright Bass DI; Bass mic u47ish; UprightBass_bridge
    Strings: Fiddle_04; Cello_dbl; Fiddle harmony; Nyckelharpa
    Plucked: Banjo take 4; Mandolin (double); Ukulele.DI; Kora DI; Bouzouki; Dulcimer_L; Oud 12; Sitar
    Guitars: Acoustic Gtr L; Dobro; Steel_String_2; Pedal Steel; Gtr_nylon_room; Resonator; Acoustic 2
    Keys: Upright Piano L; Accordion; Harmonium_lo; Concertina; Melodica
    Winds: Tin Whistle; Alto Sax; Tenor Sax solo; Bari Sax; Harmonica; Clarinet_take2; Flute air; Bansuri; Uilleann pipes
    Brass: Flugelhorn; Trombone plunger; Cornet
    Drums: Drums OH; Kit overhead mono
    Kick: Kick_26
    Snare: Brushes; Snare_wires
    Cymbals: Ride cymbal; Hats
    Percussion: Cajon; Bodhran; Djembe lo; Vibes; Frame Drum_edge; Spoons perc; Tabla R; Udu
    Lead voice: Lead Voice; Vocal_take 7; Singer close
    Backing voices: Harmony Vox 2; Backing Vocal; BV_L
    Choir: Sacred choir; Chorale
    Ambience: Audience L; Birds garden; Applause end
    -: Pair A; Spot 4
  `),
  film: names(`
    Dialogue: Boom_sc12; Lav_Mara; Dialogue 03; DX_A; ADR_sc4_t2; Loop Group; Prod Sound; Radio Mic 2; DIA 1; Wild Lines; Boom Mic sc 9; Interview A; Lav 3; DX Futz
    Narration: Narrator; VO_main; Voiceover take 3; VoiceOver_alt
    Effects: SFX 1; Foley Feet; Foley_cloth; FX hard door; Door slam; Gunshots; Car_pass; Explosion far; Whoosh title; Footsteps gravel; FOL props; Body Fall; Stinger_02; Braam; Helicopter; Hard FX 4; Siren far; Glass Break; Engine idle
    Ambience: Room Tone; AMB_forest; Walla bar; City night; Rain_roof; Wind_stereo; BG street; Crickets; Ocean Waves; Thunder; Atmosphere 5; Traffic; Crowd small; BGs interior
    Strings: MX Strings; Score Strings_low
    Percussion: MX Perc
    Brass: MX Brass
    Reference: Guide Track; Temp Music; Avid Mix
    Click: 2pop; LTC; Sync Pop
    Prints: DX Print; M&E print
    -: MX 1; Reel 3
  `),
  games: names(`
    Dialogue: NPC_guard_01; Barks_combat; Hero VO_line12; Villain VO; Combat VO; Efforts_hero; Dlg_intro
    Narration: Announcer_round; Narration_ch2; Spoken word
    Effects: UI_click_confirm; Sword_swing; Weapon reload; Creature_growl; Footstep_snow_04; Magic cast; Explosion_big; Coin pickup; Laser_zap; Menu click; Monster breath; Vehicle_engine; Punch_heavy; SFX_portal; Impacts metal; Arrow whoosh
    Ambience: Amb_cave_loop; Forest day; Dungeon drips; Ocean bed; Wind_howl; Jungle night; Market crowd; Thunderstorm far thunder; Campfire; Quad_amb_street
    Synths: Synth Bells; Modular seq; SynthLead boss; Dark Pad
    Strings: Strings_hybrid; Cello theme
    Percussion: Taikos; Perc_epic; Anvil
    Brass: Epic Brass; Horns_theme
    Choir: Choir_epic; Chant
    Guitars: Gtr_8string_L; Guitar_metal_R
    Drums: Drums_metal; DrumKit live
    Bass: Bass_distorted; Sub_808
    Dialogue : Host mic; Guest 2; Cohost; Podcast mic 1; Remote guest; Moderator
    Effects : Jingle_intro
    Lead voice: Vox theme; Vocals_final
    Click: Cue 4; Countin; Talkback
    -: Loop_A; Asset 12
  `)
}
