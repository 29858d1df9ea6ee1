"""How a meter finds the legs of each kind of part."""

METER_WAYS: dict[str, str] = {
    "npn": (
        "Diode mode. The base is the leg that conducts to both others with red on it; of those two the "
        "emitter reads slightly higher. Parts with built-in resistors defeat this test."
    ),
    "n_mosfet": (
        "Diode mode. Red on the source and black on the drain shows the body diode. Then touch the gate with "
        "red while black is on the source: drain to source now conducts, until gate and source are joined."
    ),
    "pnp": (
        "Diode mode. The base is the leg that conducts to both others with black on it; of those two the "
        "emitter reads slightly higher."
    ),
    "p_mosfet": (
        "Diode mode. Red on the drain and black on the source shows the body diode. Then touch the gate with "
        "black while red is on the source: source to drain now conducts, until gate and source are joined."
    ),
    "led": "Diode mode. Red on the long leg: it glows faintly.",
    "optocoupler": (
        "Diode mode. The LED pair reads about 1.1 V one way and OL the other; the transistor pair reads OL "
        "both ways in the dark."
    ),
    "bridge": "Diode mode. Red on −, black on either ~: a junction; the + leg the other way about.",
    "fuse": "Ohms: near 0.",
    "button": "Ohms. The pair that changes when pressed is the contact.",
    "capacitor": "Capacitance mode, or ohms: it climbs and ends at OL. An electrolytic's stripe is minus.",
    "diode": "Diode mode. It conducts with black on the banded end, and not the other way round.",
    "zener": (
        "Diode mode. It conducts with black on the banded end; in the circuit it works the other way round, "
        "band to the positive side."
    ),
    "relay": (
        "Ohms. The coil is the pair that reads tens to hundreds of ohms. COM and NC read 0 at rest; NO joins "
        "COM when the coil clicks."
    ),
    "resistor": "Ohms, before it goes in. Either way round.",
    "load": "Ohms, power off.",
}
