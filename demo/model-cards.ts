import type { CardLine } from '../src/core/register/model-card';

/** How it is done on the works' own models: what the laboratory has written, by procedure, each line at its moment. */
const texts: Record<string, Record<string, string>> = {
  balance: {
    warm: 'On at the back left. The stars run out after a minute; the time counts from then.',
    span: 'Hold CAL until “C–” shows, let go, put the weight on when the figure blinks; “done” ends it. ESC leaves the old value.',
  },
  'bore-gauge': {
    preset: 'The dial turns after the small screw at its collar is eased by a quarter. Do not take the anvils out.',
    presetWork: 'Turn the dial to the size, hold it, tighten the collar, look once more.',
  },
  calliper: { zero: 'Jaws shut, hold ZERO two seconds until “0.00” stops blinking.' },
  'clamp-meter': {
    zero: 'Jaw shut and empty: press DC·0. It forgets this when it is switched off.',
    warm: 'It switches itself off after fifteen minutes: hold the yellow key while switching on.',
  },
  'coating-thickness-gauge': {
    warm: 'Keep the probe on the stand, tip in its cap.',
    one: 'MENU, Adjust, One point: five times on the foil, then set with the arrows, OK twice.',
    many: 'MENU, Adjust, Table: the thin foil first. “n of 4” counts; a wrong one is taken back with C.',
  },
  'coordinate-measuring-machine': { map: 'Only the maker’s service key opens the map. Keep the old file before it is written.' },
  'dial-indicator': { hand: 'Hold the stem with the flat key, turn the hand on its hub with the cap; never by the pointer.' },
  'dry-block-calibrator': {
    warm: 'SET, the temperature, ENTER. “S” turns green when the block calls itself stable: that is not the criterion here.',
    offset: 'SET and down together for five seconds, code 22, “oFS”. It takes tenths.',
  },
  'flash-point-tester': { offset: 'SERVICE, Probe, Offset. It asks for the lid to be open.' },
  'flow-volume-meter-by-syringe': { gain: 'Tools, Volume factor. The old factor stands above the field.' },
  'gauge-blocks-by-comparison': { exercise: 'The lifter at the left raises both probes. Never lift by hand.' },
  'gloss-and-haze-meter': {
    ownGloss: 'Push it home until the holder clicks, then CAL. “OK 60” must come for each angle.',
    store: 'CAL and up together: the value of the tile, digit by digit, SKIP leaves an angle as it is.',
  },
  'humidity-meter-over-salts': {
    keyIn: 'PROG, “Lo” first, then “Hi”; the decimal point is fixed.',
    twoPoints: 'PROG, Adjust, Two points. One key through the opening, then lid off within seconds.',
  },
  'length-bar': { soak: 'Bars lie on the two blue rests, marks upward.' },
  'liquid-in-glass-thermometer': { room: 'Take it out of its tube by the ring, never by the bulb.' },
  'magnetic-wall-thickness-gauge': {
    off: 'OFFSET sets the ball away from the tip: hold the probe free of it.',
    points: 'CAL, choose the target ball first. The thickest shim is asked for last.',
  },
  'matched-probe-and-transmitter': {
    configuration: 'Tabs from the left: Sensor, Range, Output, Fault. Sensor must say “custom”, not “nominal”.',
    match: 'Sensor, Coefficients: R0, A, B, C with all digits. WRITE turns grey when it is kept.',
  },
  'moisture-balance': {
    tare: 'Empty pan, lid shut, TARE. Hands off the table.',
    sensitivity: 'MENU, CAL, Mass. It waits for “ADD 20 g”.',
  },
  multimeter: { trim: 'CAL ENABLE is the slot behind the seal; a pin, three seconds. The seal is renewed afterwards.' },
  'network-analyser': {
    sweep: 'PRESET, then FREQ, SWEEP, AVG. The owner’s state goes to register 9 first: SAVE 9.',
    name: 'SAVE, Cal set, the run’s number. RECALL it once before the kit is put away.',
  },
  'outside-micrometer': {
    unit: 'in/mm on the thimble side. “INC” must not stand in the window.',
    zero: 'Spanner in the hole of the sleeve, a hair at a time; ratchet three clicks before each look.',
  },
  'piston-pipette-by-weighing': { key: 'The grey key on the crown: a quarter turn is about 0.5 %. To the plus sign is more.' },
  'pressure-transmitter': {
    configuration: 'Up, down and enter behind the cover: “P1” lower end, “P2” upper end, “P5” damping, “P7” fault.',
    zeroAndSpan: 'ZERO and SPAN under the plate, three seconds each, with the pressure on.',
  },
  'resistance-thermometer-indicator': {
    held: 'SETUP, Input. “Pt” with “385” is the curve of IEC 60751.',
    offset: 'SETUP, Input, OFS. It shows hundredths only after DEC is set to 2.',
  },
  'roughness-tester': {
    asItCame: 'N/ENT walks through: Ra, Gauss, cut-off × count, mm/s.',
    gain: 'CAL, value of the specimen, trace. “Calibrated” asks YES or NO: NO keeps the old gain.',
  },
  'sound-calibrator': { trim: 'The trimmer lies under the battery lid, left of the clip. A tenth of a turn is about 0.2 dB.' },
  'sound-level-meter': {
    setting: 'SET: “A F Ref”. The bar at the right must not be at its top.',
    sensitivity: 'CAL, level of the calibrator, START. It keeps the value by itself when it is steady.',
  },
  'source-calibrator': {
    routine: 'CAL menu, passcode by the card in the lid, one range after another. ABORT keeps all old values.',
  },
  'stirred-vessel-station': { centre: 'The two knurled rings under the head move it across; lock the lower one first.' },
  'thermal-conductivity-meter': { line: 'Project, Coefficients, Line. Export the old ones before they are written.' },
  'thermocouple-indicator': { held: 'F2 turns through unit, channel and junction. “int” is the reference junction inside.' },
  'thermometer-in-bath': { tie: 'SHIFT and 0 shows hundredths.' },
  'torque-transducer-with-indicator': {
    hold: 'CFG, Sensor. Full scale and both equivalents stand one under the other; “shnt 2” is both ways.',
    gains: 'CAL runs by itself: zero, plus, minus. Hands off the shaft until “acc?” stands; ENTER takes it.',
  },
  'transducer-with-indicator': {
    hold: 'CFG, Sensor. Full scale and both equivalents stand one under the other; “shnt 2” is both ways.',
    zero: 'TARE is not zero: CFG, Zero, ENTER.',
  },
  'ultrasonic-thickness-gauge': {
    modes: 'MODE shows echo and zero on one page; DISPLAY goes back.',
    probeZero: 'PRB-0 on its own block, a drop of couplant, two seconds until the bars stand still.',
  },
  'water-activity-meter': { slope: 'MENU, Adjust, Slope. The salt is asked for by its name.' },
  'weights-by-substitution': { exercise: 'The arm lowers by the wheel at the front; never touch the pan.' },
};

/** Of a family with several models: what is another on this one. */
const models: Record<string, Record<string, string>> = {
  'Lindquill 7A, vernier to 0.001': {
    zero: 'Key number 2 turns the sleeve on its barrel. Read the vernier with the lens, straight above the line.',
  },
};

/** The card of a model of the works, by its procedure and designation. */
export const cardOfModel = (procedure: string, model: string): CardLine[] =>
  Object.entries(models[model] ?? texts[procedure] ?? {}).map(([at, text]) => ({ at, text }));
