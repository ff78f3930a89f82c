/** Who owns most of the instruments, and where the owners are. */
export const ownShop = 'Quillmere Works';
export const addresses: Record<string, string> = {
  [ownShop]: 'Foundry Yard, Quillmere',
  'Fenwater Clock Repairs': '3 Weir Lane, Fenwater',
  'Sallowby Harness Makers': 'The Tannery, Sallowby',
  'Tarn Ridge Turbines': 'Works 2, Tarn Ridge',
  'Harrowfield Apothecary Works': '14 Mortar Street, Harrowfield',
};
