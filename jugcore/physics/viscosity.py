"""How thick a mixture is: sugars by the table, what floats in them by volume, gums and starch by the order.

The liquid is taken for a sucrose solution of its °Brix. Fat, milk protein and pulp thicken it by the volume
they take (Eilers), gum by its intrinsic viscosity (Martin). Only the liquid is known to a few per cent; the
rest is indicative, and how far goes with what is in it.
"""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Bools, Floats
from jugcore.physics import sucrose

#: Millilitres a gram takes in the liquid, swollen: least, usual, most. Milk protein after Walstra and
#: Jenness, from memory; pulp, spice dust and starch are estimates, an order.
_SWOLLEN_ML_G: dict[str, tuple[float, float, float]] = {
    "milk_fat": (1.05, 1.09, 1.3),
    "cocoa_butter": (1.05, 1.09, 1.3),
    "other_fat": (1.05, 1.09, 1.3),
    "protein": (2.5, 3.9, 5.0),
    "insoluble": (1.0, 2.5, 6.0),
    "starch": (0.65, 3.0, 15.0),
}
#: Where spheres of many sizes jam. [1]
_JAMMED = 0.79
#: Intrinsic viscosity of what pectin fruit brings, and of gums bought to thicken (xanthan at the top): dl/g, an order.
_WEAK_DL_G = (1.0, 2.0, 4.0)
_STRONG_DL_G = (4.0, 14.0, 40.0)
_MARTIN = 0.14
#: Relative uncertainty of the liquid alone, below 10 °C and above.
_COLD, _WARM = 0.10, 0.03
#: How far glucose and fructose in place of sucrose thin a syrup, at most, relative.
_OTHER_SUGARS = 0.25
#: Beyond this many times the liquid a number means nothing: it is a paste.
MOST_TIMES = 3000.0
#: Up to where the liquid's viscosity was measured. [°Bx]
MOST_BRIX = 75.0


def _volume_share(mass_g: Floats, liquid_ml: Floats, which: int) -> Floats:
    volumes = sum(found[which] * mass_g[..., c.INDEX[name]] for name, found in _SWOLLEN_ML_G.items())
    return np.asarray(volumes / np.maximum(volumes + liquid_ml, 1e-12))


def _eilers(share: Floats) -> Floats:
    crowd = np.minimum(share / _JAMMED, 0.985)
    return np.asarray((1 + 1.25 * share / (1 - crowd)) ** 2)


def _gum(weak_g: Floats, strong_g: Floats, liquid_ml: Floats, which: int) -> Floats:
    """Times the liquid, by Martin's rule on grams in 100 ml."""
    x = 100 * (_WEAK_DL_G[which] * weak_g + _STRONG_DL_G[which] * strong_g) / np.maximum(liquid_ml, 1e-12)
    return np.asarray(1 + x * 10.0 ** np.minimum(_MARTIN * x, 3.0))


def runs_clear(mass_g: Floats, strong_gum_g: Floats | float = 0.0) -> Bools:
    """Where (…) next to nothing is in it but water and sugars: under half a percent of fat, protein, gum and
    solids, a gram of thickener counted as ten, and nine tenths of what is dissolved sugars (brine and extracts flow otherwise).
    Grams, components last. Formula: body + 9·thickener < 0.005·total, other solutes ≤ 0.1·dissolved. Source: the limits are ours. [g]
    Accuracy: no figure; what is not clear has an order for a band.
    """
    body = c.INSOLUBLE + c.FAT
    body[[c.INDEX["protein"], c.INDEX["pectin_and_gums"]]] = 1.0
    dissolved = mass_g @ c.DISSOLVED
    other = dissolved - mass_g @ c.SUGARS + mass_g[..., c.INDEX["ethanol"]]
    return np.asarray((mass_g @ body + 9.0 * strong_gum_g < 0.005 * mass_g.sum(axis=-1)) & (other <= 0.1 * dissolved))


def viscosity(mass_g: Floats, temperature_c: Floats, strong_gum_g: Floats | float = 0.0) -> tuple[Floats, Floats, Floats]:
    """Least, likely and most viscosity of masses (components last) at a temperature. [mPa·s]

    ``strong_gum_g`` is how much of the gums was added to thicken.

    NaN above 75 °Bx, outside 0 to 80 °C, where there is no water and where it is a paste or a gel (3,000 times its liquid).
    A clear syrup has a 90 % interval of 10 % below 10 °C and 3 % above (more where other sugars than sucrose lead);
    with anything else in it the ends are an order.

    Formula: η(°Brix, t) · (1 + 1.25 φ/(1 − φ/0.79))² · (1 + x·10^(0.14 x)), φ the swollen volume share, x = [η]·c.
    Source: Genotelle refitted to Swindells; Eilers after Walstra and Jenness, from memory; Martin. Accuracy, measured: milk to
    −15 %, cream of 36 % within its range; gum, starch and pulp not measured.
    """
    water = mass_g[..., c.WATER]
    solids = mass_g @ c.DISSOLVED
    with np.errstate(invalid="ignore", divide="ignore"):
        brix = np.where(water > 0, 100 * solids / np.where(water + solids > 0, water + solids, 1.0), np.nan)
    t = np.broadcast_to(np.asarray(temperature_c, dtype=np.float64), brix.shape)
    fits = (brix <= MOST_BRIX) & (t >= 0) & (t <= 80)
    safe_brix, safe_t = np.where(fits, brix, 0.0), np.where(fits, t, 20.0)
    liquid = np.where(fits, sucrose._viscosity_mpa_s(safe_brix, safe_t), np.nan)
    liquid_ml = (water + solids) / sucrose._density_kg_m3(safe_brix, safe_t) * 1e3
    # Thinner where other sugars stand in for sucrose, the more so the thicker it is.
    others = np.where(solids > 0, 1 - mass_g[..., c.SUCROSE] / np.where(solids > 0, solids, 1.0), 0.0)
    thinner = _OTHER_SUGARS * others * np.minimum(1.0, np.nan_to_num(brix) / 60)
    spread = np.where(t < 10, _COLD, _WARM)
    clear = runs_clear(mass_g, strong_gum_g)
    strong = np.minimum(np.broadcast_to(np.asarray(strong_gum_g, dtype=np.float64), brix.shape), mass_g[..., c.INDEX["pectin_and_gums"]])
    weak = mass_g[..., c.INDEX["pectin_and_gums"]] - strong
    least, likely, most = (_eilers(_volume_share(mass_g, liquid_ml, w)) * _gum(weak, strong, liquid_ml, w) for w in range(3))
    liquid = np.where(likely < MOST_TIMES, liquid, np.nan)
    least, most = np.minimum(least, MOST_TIMES), np.minimum(most, MOST_TIMES)
    value = liquid * likely * (1 - thinner / 2)
    least, most = least * np.where(clear, 1.0, 0.7), most * np.where(clear, 1.0, 1.5)
    low = np.minimum(liquid * least * (1 - spread) * (1 - thinner), value)
    high = np.maximum(liquid * most * (1 + spread), value)
    return np.asarray(low), np.asarray(value), np.asarray(high)
