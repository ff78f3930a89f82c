import { closedFunction, inverseFunction, type DisciplineFunction } from '../discipline-function';

/** One piece of a reference function: E = Σ cᵢ tⁱ in mV, and for type K a bell about 126.9686 °C. */
type Piece = { to: number; c: readonly number[]; bell?: readonly [number, number, number] };
type Type = {
  from: number;
  pieces: readonly Piece[];
  /** Where the inverse is taken: the function rises there. */ inverseFrom?: number;
};

const types: Record<string, Type> = {
  B: {
    from: 0,
    inverseFrom: 250,
    pieces: [
      {
        to: 630.615,
        c: [0, -0.24650818346e-3, 0.59040421171e-5, -0.13257931636e-8, 0.15668291901e-11, -0.1694452924e-14, 0.62990347094e-18],
      },
      {
        to: 1820,
        c: [
          -0.38938168621e1, 0.2857174747e-1, -0.84885104785e-4, 0.15785280164e-6, -0.16835344864e-9, 0.11109794013e-12,
          -0.44515431033e-16, 0.98975640821e-20, -0.93791330289e-24,
        ],
      },
    ],
  },
  E: {
    from: -270,
    inverseFrom: -200,
    pieces: [
      {
        to: 0,
        c: [
          0, 0.58665508708e-1, 0.45410977124e-4, -0.77998048686e-6, -0.25800160843e-7, -0.59452583057e-9, -0.93214058667e-11,
          -0.10287605534e-12, -0.80370123621e-15, -0.43979497391e-17, -0.16414776355e-19, -0.39673619516e-22, -0.55827328721e-25,
          -0.34657842013e-28,
        ],
      },
      {
        to: 1000,
        c: [
          0, 0.5866550871e-1, 0.45032275582e-4, 0.28908407212e-7, -0.33056896652e-9, 0.6502440327e-12, -0.19197495504e-15,
          -0.12536600497e-17, 0.21489217569e-20, -0.14388041782e-23, 0.35960899481e-27,
        ],
      },
    ],
  },
  J: {
    from: -210,
    pieces: [
      {
        to: 760,
        c: [
          0, 0.50381187815e-1, 0.3047583693e-4, -0.8568106572e-7, 0.13228195295e-9, -0.17052958337e-12, 0.20948090697e-15,
          -0.12538395336e-18, 0.15631725697e-22,
        ],
      },
      {
        to: 1200,
        c: [0.29645625681e3, -0.14976127786e1, 0.31787103924e-2, -0.31847686701e-5, 0.15720819004e-8, -0.30691369056e-12],
      },
    ],
  },
  K: {
    from: -270,
    inverseFrom: -200,
    pieces: [
      {
        to: 0,
        c: [
          0, 0.39450128025e-1, 0.23622373598e-4, -0.32858906784e-6, -0.49904828777e-8, -0.67509059173e-10, -0.57410327428e-12,
          -0.31088872894e-14, -0.10451609365e-16, -0.19889266878e-19, -0.16322697486e-22,
        ],
      },
      {
        to: 1372,
        c: [
          -0.17600413686e-1, 0.38921204975e-1, 0.18558770032e-4, -0.99457592874e-7, 0.31840945719e-9, -0.56072844889e-12,
          0.56075059059e-15, -0.32020720003e-18, 0.97151147152e-22, -0.12104721275e-25,
        ],
        bell: [0.1185976, -0.1183432e-3, 0.1269686e3],
      },
    ],
  },
  N: {
    from: -270,
    inverseFrom: -200,
    pieces: [
      {
        to: 0,
        c: [
          0, 0.26159105962e-1, 0.10957484228e-4, -0.93841111554e-7, -0.46412039759e-10, -0.26303357716e-11, -0.22653438003e-13,
          -0.76089300791e-16, -0.93419667835e-19,
        ],
      },
      {
        to: 1300,
        c: [
          0, 0.25929394601e-1, 0.1571014188e-4, 0.43825627237e-7, -0.25261169794e-9, 0.64311819339e-12, -0.10063471519e-14,
          0.99745338992e-18, -0.60863245607e-21, 0.20849229339e-24, -0.30682196151e-28,
        ],
      },
    ],
  },
  R: {
    from: -50,
    pieces: [
      {
        to: 1064.18,
        c: [
          0, 0.528961729765e-2, 0.139166589782e-4, -0.238855693017e-7, 0.356916001063e-10, -0.462347666298e-13,
          0.500777441034e-16, -0.373105886191e-19, 0.157716482367e-22, -0.281038625251e-26,
        ],
      },
      {
        to: 1664.5,
        c: [0.295157925316e1, -0.252061251332e-2, 0.159564501865e-4, -0.764085947576e-8, 0.205305291024e-11, -0.293359668173e-15],
      },
      { to: 1768.1, c: [0.152232118209e3, -0.268819888545, 0.171280280471e-3, -0.345895706453e-7, -0.934633971046e-14] },
    ],
  },
  S: {
    from: -50,
    pieces: [
      {
        to: 1064.18,
        c: [
          0, 0.540313308631e-2, 0.12593428974e-4, -0.232477968689e-7, 0.322028823036e-10, -0.331465196389e-13, 0.255744251786e-16,
          -0.125068871393e-19, 0.271443176145e-23,
        ],
      },
      { to: 1664.5, c: [0.132900444085e1, 0.334509311344e-2, 0.654805192818e-5, -0.164856259209e-8, 0.129989605174e-13] },
      { to: 1768.1, c: [0.146628232636e3, -0.258430516752, 0.163693574641e-3, -0.330439046987e-7, -0.943223690612e-14] },
    ],
  },
  T: {
    from: -270,
    inverseFrom: -200,
    pieces: [
      {
        to: 0,
        c: [
          0, 0.38748106364e-1, 0.44194434347e-4, 0.11844323105e-6, 0.20032973554e-7, 0.90138019559e-9, 0.22651156593e-10,
          0.36071154205e-12, 0.38493939883e-14, 0.28213521925e-16, 0.14251594779e-18, 0.48768662286e-21, 0.1079553927e-23,
          0.13945027062e-26, 0.79795153927e-30,
        ],
      },
      {
        to: 400,
        c: [
          0, 0.38748106364e-1, 0.3329222788e-4, 0.20618243404e-6, -0.21882256846e-8, 0.10996880928e-10, -0.30815758772e-13,
          0.4547913529e-16, -0.27512901673e-19,
        ],
      },
    ],
  },
};

/** Horner's form, which keeps the digits of high powers. */
const polynomial = (c: readonly number[]): string =>
  c.reduceRight<string>((inner, k) => (inner ? `(${k} + t * ${inner})` : `(${k})`), '');

function pair(letter: string, { from, pieces, inverseFrom = from }: Type): DisciplineFunction[] {
  const to = pieces.at(-1)!.to;
  const source = 'ITS-90 reference functions; IEC 60584-1:2013, annex A';
  const emf = closedFunction({
    name: `emf${letter}`,
    title: `Electromotive force of a type ${letter} thermocouple, reference junction at 0 °C`,
    discipline: 'temperature',
    parameters: [{ id: 't', title: 'temperature', unit: 'Cel' }],
    unit: 'mV',
    validity: `${from} °C to ${to} °C`.replace('-', '−'),
    source,
    branches: pieces.map(({ to: end, c, bell }) => ({
      when: ([t]: readonly number[]) => t! <= end || end === to,
      is: polynomial(c) + (bell ? ` + ${bell[0]} * exp((${bell[1]}) * (t - ${bell[2]})^2)` : ''),
    })),
    ranges: [{ of: 't', from, to }],
  });
  const temperature = inverseFunction({
    name: `temperature${letter}`,
    title: `Temperature of a type ${letter} thermocouple, reference junction at 0 °C`,
    discipline: 'temperature',
    parameters: [{ id: 'e', title: 'electromotive force', unit: 'mV' }],
    unit: 'Cel',
    validity: `${inverseFrom} °C to ${to} °C`.replace('-', '−'),
    source: `${source}, inverted; derivative by implicit differentiation`,
    of: emf,
    from: inverseFrom,
    to,
  });
  return [emf, temperature];
}

/** emfB … emfT and temperatureB … temperatureT. */
export const thermocouples: readonly DisciplineFunction[] = Object.entries(types).flatMap(([letter, type]) => pair(letter, type));
