"""How a data sheet writes a card's fields."""

from __future__ import annotations

# How a sheet writes a field, where its name alone does not say it.
LABELS = {
    "v_ceo": "V_{CEO}",
    "v_ebo": "V_{EBO}",
    "v_ce_sat": "V_{CE(sat)}",
    "v_be_sat": "V_{BE(sat)}",
    "v_be_min": "V_{BE} least",
    "v_be_on": "V_{BE} just on",
    "v_be_on_at": "just on at I_{C}",
    "gain_far": "h_{FE} far up:",
    "gain_low": "h_{FE} far down:",
    "gain": "h_{FE}",
    "gain_min": "h_{FE} least",
    "gain_max": "h_{FE} most",
    "gain_at": "h_{FE} at I_{C}",
    "sat_collector": "saturated at I_{C}",
    "sat_base": "and I_{B}",
    "power": "P_{tot}",
    "r_th": "R_{θJA}",
    "t_j_max": "T_{j} most",
    "v_ds": "V_{DS}",
    "v_gs_max": "V_{GS} most",
    "threshold_min": "V_{GS(th)} least",
    "threshold": "V_{GS(th)}",
    "threshold_max": "V_{GS(th)} most",
    "threshold_current": "V_{GS(th)} at I_{D}",
    "c_iss": "C_{iss}",
    "c_rss": "C_{rss}",
    "c_oss": "C_{oss}",
    "q_gd": "Q_{gd}",
    "current_hot": "I hot",
    "v_gs": "V_{GS}",
    "resistance": "R",
    "esr": "ESR",
}


def label(path: str) -> str:
    """A field's label from its path: "on.0.v_gs" is "on 1 V_{GS}"."""
    return " ".join(
        str(int(step) + 1) if step.isdigit() else LABELS.get(step, step.replace("_", " "))
        for step in path.split(".")
    )
