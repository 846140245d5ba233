import { type ComponentType, lazy } from 'react';

/** Every screen and the file it is loaded from when it is first opened. */
const LOADERS = {
  TodayScreen: () => import('../areas/today/TodayScreen'),
  FormulasScreen: () => import('../areas/formulas/FormulasScreen'),
  ImportScreen: () => import('../areas/formulas/ImportScreen'),
  StartScreen: () => import('../areas/formulas/StartScreen'),
  BenchScreen: () => import('../areas/bench/BenchScreen'),
  VersionsScreen: () => import('../areas/versions/VersionsScreen'),
  PantryScreen: () => import('../areas/pantry/PantryScreen'),
  IngredientForm: () => import('../areas/pantry/IngredientForm'),
  LabelScreen: () => import('../areas/pantry/LabelScreen'),
  BatchesScreen: () => import('../areas/batches/BatchesScreen'),
  HobScreen: () => import('../areas/hob/HobScreen'),
  BottlesScreen: () => import('../areas/bottles/BottlesScreen'),
  BatchBottlesScreen: () => import('../areas/bottles/BatchBottlesScreen'),
  BottleScreen: () => import('../areas/bottles/BottleScreen'),
  DrinksScreen: () => import('../areas/drinks/DrinksScreen'),
  DosesScreen: () => import('../areas/drinks/DosesScreen'),
  RecallScreen: () => import('../areas/bottles/RecallScreen'),
  OriginScreen: () => import('../areas/bottles/OriginScreen'),
  CountScreen: () => import('../areas/bottles/CountScreen'),
  PlanScreen: () => import('../areas/plan/PlanScreen'),
  DemandScreen: () => import('../areas/plan/DemandScreen'),
  SalesScreen: () => import('../areas/plan/SalesScreen'),
  SalesFileScreen: () => import('../areas/plan/SalesFileScreen'),
  CostsScreen: () => import('../areas/costs/CostsScreen'),
  PricesScreen: () => import('../areas/pantry/PricesScreen'),
  SuppliersScreen: () => import('../areas/pantry/SuppliersScreen'),
  DrinkScreen: () => import('../areas/drinks/DrinkScreen'),
  TastingsScreen: () => import('../areas/tastings/TastingsScreen'),
  BenchmarkScreen: () => import('../areas/tastings/BenchmarkScreen'),
  CalculatorsScreen: () => import('../areas/calculators/CalculatorsScreen'),
  SiteScreen: () => import('../areas/site/SiteScreen'),
  SignInOver: () => import('./SignInOver'),
  ShortcutsDialog: () => import('./ShortcutsDialog'),
  FindBox: () => import('./FindBox'),
};

const screen = <P extends object>(load: () => Promise<ComponentType<P>>) =>
  lazy(async () => ({ default: await load() }));

export const TodayScreen = screen(async () => (await LOADERS.TodayScreen()).TodayScreen);
export const FormulasScreen = screen(async () => (await LOADERS.FormulasScreen()).FormulasScreen);
export const ImportScreen = screen(async () => (await LOADERS.ImportScreen()).ImportScreen);
export const StartScreen = screen(async () => (await LOADERS.StartScreen()).StartScreen);
export const BenchScreen = screen(async () => (await LOADERS.BenchScreen()).BenchScreen);
export const VersionsScreen = screen(async () => (await LOADERS.VersionsScreen()).VersionsScreen);
export const PantryScreen = screen(async () => (await LOADERS.PantryScreen()).PantryScreen);
export const IngredientForm = screen(async () => (await LOADERS.IngredientForm()).IngredientForm as ComponentType);
export const LabelScreen = screen(async () => (await LOADERS.LabelScreen()).LabelScreen);
export const BatchesScreen = screen(async () => (await LOADERS.BatchesScreen()).BatchesScreen);
export const HobScreen = screen(async () => (await LOADERS.HobScreen()).HobScreen);
export const BottlesScreen = screen(async () => (await LOADERS.BottlesScreen()).BottlesScreen);
export const BatchBottlesScreen = screen(async () => (await LOADERS.BatchBottlesScreen()).BatchBottlesScreen);
export const DrinksScreen = screen(async () => (await LOADERS.DrinksScreen()).DrinksScreen);
export const RecallScreen = screen(async () => (await LOADERS.RecallScreen()).RecallScreen);
export const OriginScreen = screen(async () => (await LOADERS.OriginScreen()).OriginScreen);
export const CountScreen = screen(async () => (await LOADERS.CountScreen()).CountScreen);
export const PlanScreen = screen(async () => (await LOADERS.PlanScreen()).PlanScreen);
export const DemandScreen = screen(async () => (await LOADERS.DemandScreen()).DemandScreen);
export const SalesScreen = screen(async () => (await LOADERS.SalesScreen()).SalesScreen);
export const SalesFileScreen = screen(async () => (await LOADERS.SalesFileScreen()).SalesFileScreen);
export const CostsScreen = screen(async () => (await LOADERS.CostsScreen()).CostsScreen);
export const PricesScreen = screen(async () => (await LOADERS.PricesScreen()).PricesScreen);
export const SuppliersScreen = screen(async () => (await LOADERS.SuppliersScreen()).SuppliersScreen);
export const DosesScreen = screen(async () => (await LOADERS.DosesScreen()).DosesScreen);
export const DrinkScreen = screen(async () => (await LOADERS.DrinkScreen()).DrinkScreen);
export const BottleScreen = screen(async () => (await LOADERS.BottleScreen()).BottleScreen);
export const TastingsScreen = screen(async () => (await LOADERS.TastingsScreen()).TastingsScreen);
export const BenchmarkScreen = screen(async () => (await LOADERS.BenchmarkScreen()).BenchmarkScreen);
export const CalculatorsScreen = screen(async () => (await LOADERS.CalculatorsScreen()).CalculatorsScreen);
export const SiteScreen = screen(async () => (await LOADERS.SiteScreen()).SiteScreen);
export const SignInAgain = screen(async () => (await LOADERS.SignInOver()).SignInAgain);
export const Rested = screen(async () => (await LOADERS.SignInOver()).Rested);
export const ShortcutsDialog = screen(async () => (await LOADERS.ShortcutsDialog()).ShortcutsDialog);
export const FindBox = screen(async () => (await LOADERS.FindBox()).FindBox);

/** What most people open the app at: its file comes while the server is asked who they are. */
const OPENED_AT: [RegExp, keyof typeof LOADERS][] = [
  [/^\/$/, 'TodayScreen'],
  [/^\/formulas\/(?!import|new$)[^/]+$/, 'BenchScreen'],
  [/^\/batches\/[^/]+$/, 'HobScreen'],
  [/^\/bottles\/[^/]+$/, 'BottleScreen'],
];

/** Loads the screen that an address will show, where it is one of those that are opened first. */
export function loadAhead(pathname: string): void {
  const found = OPENED_AT.find(([address]) => address.test(pathname));
  if (found) void LOADERS[found[1]]().catch(() => undefined);
}

/** Loads what a key may open at any moment. */
export const loadFind = () => void LOADERS.FindBox().catch(() => undefined);

/** Loads what was not opened yet, one after another: whoever loses the network later can open it all the same. */
export async function loadTheRest(): Promise<void> {
  for (const load of Object.values(LOADERS)) {
    try {
      await load();
    } catch {
      return; // it is loaded, or said to be missing, when it is opened
    }
  }
}
