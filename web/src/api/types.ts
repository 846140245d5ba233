import type { components } from './schema';

type Schemas = components['schemas'];

export type MethodDocument = Schemas['MethodDocument'];
export type Stage = MethodDocument['stages'][number];
export type StageKind = Stage['kind'];
export type Line = Schemas['LineDoc'];
export type Amount = Line['amount'];
export type Vessel = Schemas['VesselDoc'];
export type BoilEnd = Schemas['BoilEnd'];
export type WalkReport = Schemas['WalkReport'];
export type StageReport = Schemas['StageReport'];
export type LineReport = Schemas['LineReport'];
export type ReadingReport = Schemas['ReadingReport'];
export type VesselReport = Schemas['VesselReport'];
export type BandMass = Schemas['BandMass'];
export type SweetLineReport = Schemas['SweetLineReport'];
export type ConsequenceReport = Schemas['ConsequenceReport'];
export type FormulaCard = Schemas['FormulaCard'];
export type FormulaOut = Schemas['FormulaOut'];
export type Substance = Schemas['SubstanceOut'];
export type Kitchen = Schemas['Kitchen'];
export type KitchenOut = Schemas['KitchenOut'];
export type SessionOut = Schemas['SessionOut'];
export type Person = Schemas['PersonOut'];
export type Starters = Schemas['Starters'];
export type StarterStage = Schemas['StarterStage'];
