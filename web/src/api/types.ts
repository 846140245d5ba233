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
export type YieldReport = Schemas['YieldReport'];
export type LineReport = Schemas['LineReport'];
export type ReadingReport = Schemas['ReadingReport'];
export type VesselReport = Schemas['VesselReport'];
export type BandMass = Schemas['BandMass'];
export type SweetLineReport = Schemas['SweetLineReport'];
export type ConsequenceReport = Schemas['ConsequenceReport'];
export type FormulaCard = Schemas['FormulaCard'];
export type ChangeOut = Schemas['ChangeOut'];
export type FormulaOut = Schemas['FormulaOut'];
export type Substance = Schemas['SubstanceOut'];
/** What something made here is made of. */
export type Made = Schemas['MadeDoc'];
/** A line that is a formula of ours. */
export type MadeHere = Schemas['MadeHereReport'];
/** A bottle, tub or kept rest as it stands. */
export type Container = Schemas['ContainerOut'];
/** Something entered about a container. */
export type BottleEntry = Schemas['MovementIn'];
/** What a batch takes of what is made here, and the bottles there are. */
export type Need = Schemas['NeedOut'];
export type OnHand = Schemas['OnHandOut'];
/** From a lot to every bottle. */
export type Recall = Schemas['RecallOut'];
/** A lot that the hob offers. */
export type OpenLot = Schemas['OpenLot'];
export type Bar = Schemas['BarOut'];
export type Place = Schemas['PlaceOut'];
/** A formula that another stands in. */
export type UsedIn = Schemas['UsedInOut'];
export type SubstanceDoc = Schemas['SubstanceDoc'];
export type CostReport = Schemas['CostReport'];
export type DrinkReport = Schemas['DrinkReport'];
/** A drink over its sizes, as it is written. */
export type DrinkDocument = Schemas['DrinkDocument'];
export type DrinkComponent = Schemas['ComponentDoc'];
export type DrinkSize = Schemas['SizeDoc'];
/** A drink over its sizes, as it was walked. */
export type DrinkSizes = Schemas['DrinkSizesReport'];
export type DrinkFigure = Schemas['DrinkFigure'];
export type DrinkSizeOut = Schemas['SizeOut'];
export type DrinkOut = Schemas['DrinkOut'];
export type DrinkCard = Schemas['DrinkCard'];
export type DrinkVersionCard = Schemas['DrinkVersionCard'];
export type EvenOut = Schemas['EvenOutReport'];
export type DrinkUsing = Schemas['InDrinkUse'];
export type DrinkSwap = Schemas['SwapOut'];
export type CalculatorReport = Schemas['CalculatorReport'];
export type CalculatorField = Schemas['CalculatorFieldReport'];
export type Hit = Schemas['HitOut'];
export type LotOut = Schemas['LotOut'];
export type Supplier = Schemas['SupplierOut'];
export type LabelDoc = Schemas['LabelDoc'];
export type LabelReport = Schemas['LabelReport'];
export type Kitchen = Schemas['Kitchen'];
export type BenchmarkDoc = Schemas['BenchmarkDoc'];
export type BenchmarkOut = Schemas['BenchmarkOut'];
export type BenchmarkCard = Schemas['BenchmarkCard'];
export type BenchmarkReport = Schemas['BenchmarkReport'];
export type AimReport = Schemas['AimReport'];
export type TastingSheet = Schemas['Sheet'];
export type Tasted = Schemas['Tasted'];
export type TastingAttribute = Schemas['AttributeOut'];
export type ImportOut = Schemas['ImportOut'];
export type ImportFormula = Schemas['ImportFormula'];
export type ImportRow = Schemas['ImportRow'];
export type Equipment = Schemas['Equipment'];
export type KitchenOut = Schemas['KitchenOut'];
export type SessionOut = Schemas['SessionOut'];
export type Person = Schemas['PersonOut'];
export type PersonAtTablet = Schemas['PersonAtTablet'];
export type SignedIn = Schemas['SignedIn'];
export type Starters = Schemas['Starters'];
export type Family = Schemas['Family'];
export type School = Schemas['School'];
export type StarterStage = Schemas['StarterStage'];
export type SuggestionsReport = Schemas['SuggestionsReport'];
export type SuggestionReport = Schemas['SuggestionReport'];
export type MoveReport = Schemas['MoveReport'];
export type KeepingDoc = Schemas['KeepingDoc'];
export type KeepingReport = Schemas['KeepingReport'];
export type HoldPlan = Schemas['HoldPlan'];
export type ScaleRequest = Schemas['ScaleRequest'];
export type ScaleReport = Schemas['ScaleReport'];
export type VersionCard = Schemas['VersionCard'];
export type CompareReport = Schemas['CompareReport'];
export type CompareRow = Schemas['CompareRow'];
export type SideCell = Schemas['SideCell'];
export type Axis = Schemas['Axis'];
export type OvershotReport = Schemas['OvershotReport'];
export type BatchCard = Schemas['BatchCard'];
export type BatchOut = Schemas['BatchOut'];
export type BatchReport = Schemas['BatchReport'];
export type SheetReport = Schemas['SheetReport'];
export type SheetStep = Schemas['SheetStep'];
export type SheetLine = Schemas['SheetLine'];
export type SheetBoil = Schemas['SheetBoil'];
export type SheetHold = Schemas['SheetHold'];
export type CoolingLog = Schemas['CoolingLog'];
export type SheetFill = Schemas['SheetFill'];
export type MeasurementCheckReport = Schemas['MeasurementCheckReport'];
export type RescueReport = Schemas['RescueReport'];
export type Deviation = Schemas['Deviation'];
export type PlanRow = Schemas['PlanRow'];
export type QuestionReport = Schemas['QuestionReport'];
export type LogEvent = Schemas['Event'];
/** What an entry says; defaults may be left out. */
export type What = Partial<Record<string, unknown>> & { kind: LogEvent['what']['kind'] };
export type Business = Schemas['Business'];
export type BusinessOut = Schemas['BusinessOut'];
export type PriceRow = Schemas['PriceRow'];
export type PriceChanges = Schemas['PriceChangesReport'];
export type Choice = Schemas['ChoiceOut'];
export type SideBySide = Schemas['SideBySideOut'];
export type MakeOrBuyReport = Schemas['MakeOrBuyReport'];
export type PurchasesReport = Schemas['PurchasesReport'];
export type Span = Schemas['SpanOut'];
