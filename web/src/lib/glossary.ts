/** What the words of the trade mean, in a sentence or two; by the id of the reading that carries the word. */
export const GLOSSARY: Record<string, string> = {
  brix: 'Degrees Brix: grams of everything dissolved in 100 g, as sugar counts it. A refractometer reads it. Equal parts of sugar and water are 50 °Bx.',
  refractometer:
    'What the instrument would show. It takes all that is dissolved for sucrose, so acids and other sugars move it a little.',
  water_activity:
    'How much of the water is free for germs to use, from 0 to 1. Pure water is 1, honey about 0.6; below 0.85 most germs that make people ill cannot grow, moulds still can.',
  ph: 'How sour it is to a meter, from 0 to 14. Below 4.2 few germs that make people ill grow. Measure it: no model is good enough for a verdict on food.',
  acidity: 'All the acid in it, counted as citric acid. It says how sour it tastes; pH says how safe it is.',
  cold_margin:
    'How far its sugar is from crystallising in the fridge, in percent. Above 0 it stays clear; below 0 crystals may form.',
  crystals: 'Sugar that may drop out as crystals in the fridge, per kilogram.',
  lactose_margin: 'How far its milk sugar is from turning sandy in the fridge, in percent. Below 0 it may.',
  viscosity: 'How thick it is in the fridge. Water is about 1.6 mPa·s there, cream about 20, honey 10,000 and more.',
  sweetness:
    'How much sucrose would taste as sweet, in 100 g of it. Fructose tastes sweeter than sucrose, lactose much less.',
  sucrose: 'Table sugar that is still whole. Acid and heat split some of it into glucose and fructose.',
  spice_started: 'Grams of spice for each kilogram in the pot before it boils: what decides how strong it draws.',
  spice_finished: 'Grams of spice for each kilogram of product: what decides how strong it tastes.',
  density: 'Grams in a millilitre. Water is 1.0, syrup of 65 °Bx about 1.32.',
  caffeine: 'Caffeine in 100 g of it. An espresso holds about 60 to 100 mg.',
  cooked_starch: 'Starch that has been heated until it swelled. It thickens further overnight.',
  heat_capacity: 'How much heat it takes to warm a gram by one degree. Water takes 4.2 J.',
};
