"""The works that sentences name by author and year, as a list of references has them."""

from __future__ import annotations

import re
from collections.abc import Iterable

SOURCES = {
    ("Aiken & West", 1991): "*Multiple Regression: Testing and Interpreting Interactions*.",
    ("Belsley, Kuh & Welsch", 1980): "*Regression Diagnostics*.",
    ("Benjamini & Hochberg", 1995): "Journal of the Royal Statistical Society B 57, 289–300.",
    ("Cameron & Miller", 2015): "Journal of Human Resources 50, 317–372.",
    ("Cohen", 1988): "*Statistical Power Analysis for the Behavioral Sciences*.",
    ("Cook", 1977): "Technometrics 19, 15–18.",
    ("Cribari-Neto", 2004): "Computational Statistics & Data Analysis 45, 215–233.",
    ("Davison & Hinkley", 1997): "*Bootstrap Methods and Their Application*.",
    ("Dawson & Richter", 2006): "Journal of Applied Psychology 91, 917–926.",
    ("Durbin & Watson", 1950): "Biometrika 37, 409–428.",
    ("Efron", 1987): "Journal of the American Statistical Association 82, 171–185.",
    ("Esarey & Sumner", 2018): "Comparative Political Studies 51, 1144–1176.",
    ("Fieller", 1954): "Journal of the Royal Statistical Society B 16, 175–185.",
    ("Fox & Monette", 1992): "Journal of the American Statistical Association 87, 178–183.",
    ("Friedrich", 1982): "American Journal of Political Science 26, 797–833.",
    ("Hainmueller, Mummolo & Xu", 2019): "Political Analysis 27, 163–192.",
    ("Hayes & Montoya", 2017): "Communication Methods and Measures 11, 1–30.",
    ("Holm", 1979): "Scandinavian Journal of Statistics 6, 65–70.",
    ("Johnson & Neyman", 1936): "Statistical Research Memoirs 1, 57–93.",
    ("Koenker", 1981): "Journal of Econometrics 17, 107–112.",
    ("MacKinnon & White", 1985): "Journal of Econometrics 29, 305–325.",
    ("Potthoff", 1964): "Psychometrika 29, 241–256.",
    ("Ramsey", 1969): "Journal of the Royal Statistical Society B 31, 350–371.",
    ("Royston", 1995): "Applied Statistics 44, 547–551.",
    ("Schad, Vasishth, Hohenstein & Kliegl", 2020): "Journal of Memory and Language 110, 104038.",
    ("Schuirmann", 1987): "Journal of Pharmacokinetics and Biopharmaceutics 15, 657–680.",
    ("Steiger & Fouladi", 1997): "in *What If There Were No Significance Tests?*, 221–257.",
    ("White", 1980): "Econometrica 48, 817–838.",
}
"""Authors and year, and where they wrote; stars set titles of books apart."""

_NAME = r"[A-Z][A-Za-z-]+"
_NAMED = re.compile(rf"((?:{_NAME}, )*(?:{_NAME} & )?{_NAME})(?:'s|’s)?(?:, | \()((?:19|20)\d\d)\b")


def named_in(text: str) -> list[tuple[str, int]]:
    """The works that a text names, as “Holm's (1979)” or “(Johnson & Neyman, 1936)”."""
    return [(authors, int(year)) for authors, year in _NAMED.findall(text)]


def references(texts: Iterable[str]) -> list[str]:
    """The works that texts name, in the order of their authors: “Holm (1979), Scandinavian …”."""
    found = sorted({work for text in texts for work in named_in(text)})
    return [f"{authors} ({year}), {SOURCES[authors, year]}" for authors, year in found]
