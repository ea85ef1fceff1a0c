import type { UnitSystem, VehicleKind } from '../api/types';

export const kindWords: Record<VehicleKind, string> = {
  car: 'car',
  van: 'light van',
  off_road: 'off-road',
  motorcycle: 'motorcycle',
  trike: 'three-wheeler',
  kart: 'kart',
  quad: 'quad',
  sled: 'tracked sled',
  utility: 'tractor or tug',
};

export const unitWords: Record<UnitSystem, string> = {
  metric: 'km · kg · kW',
  imperial: 'mi · lb · hp',
  mix: 'shop mix',
};
