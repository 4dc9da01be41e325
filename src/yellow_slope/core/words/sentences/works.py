"""The works that methods rest on: how a sentence cites them, and how a list of references has them."""

from __future__ import annotations

from collections.abc import Iterable
from enum import Enum

from yellow_slope.values import dataclass


class Work(Enum):
    """A work: authors and year as a sentence names them, and the whole reference in APA form, in which italics stand
    between stars."""

    AIKEN_WEST = (
        "Aiken & West",
        1991,
        "Aiken, L. S., & West, S. G. (1991). *Multiple regression: Testing and interpreting interactions*. Sage.",
    )
    BELSLEY_KUH_WELSCH = (
        "Belsley, Kuh & Welsch",
        1980,
        "Belsley, D. A., Kuh, E., & Welsch, R. E. (1980). *Regression diagnostics: Identifying influential "
        "data and sources of collinearity*. Wiley.",
    )
    BENJAMINI_HOCHBERG = (
        "Benjamini & Hochberg",
        1995,
        "Benjamini, Y., & Hochberg, Y. (1995). Controlling the false discovery rate: A practical and "
        "powerful approach to multiple testing. *Journal of the Royal Statistical Society: Series B*, *57*, "
        "289–300.",
    )
    CAMERON_MILLER = (
        "Cameron & Miller",
        2015,
        "Cameron, A. C., & Miller, D. L. (2015). A practitioner's guide to cluster-robust inference. "
        "*Journal of Human Resources*, *50*, 317–372.",
    )
    COHEN = (
        "Cohen",
        1988,
        "Cohen, J. (1988). *Statistical power analysis for the behavioral sciences* (2nd ed.). Erlbaum.",
    )
    COOK = (
        "Cook",
        1977,
        "Cook, R. D. (1977). Detection of influential observation in linear regression. *Technometrics*, *19*, 15–18.",
    )
    CRIBARI_NETO = (
        "Cribari-Neto",
        2004,
        "Cribari-Neto, F. (2004). Asymptotic inference under heteroskedasticity of unknown form. "
        "*Computational Statistics & Data Analysis*, *45*, 215–233.",
    )
    DAVISON_HINKLEY = (
        "Davison & Hinkley",
        1997,
        "Davison, A. C., & Hinkley, D. V. (1997). *Bootstrap methods and their application*. Cambridge "
        "University Press.",
    )
    DAWSON_RICHTER = (
        "Dawson & Richter",
        2006,
        "Dawson, J. F., & Richter, A. W. (2006). Probing three-way interactions in moderated multiple "
        "regression: Development and application of a slope difference test. *Journal of Applied "
        "Psychology*, *91*, 917–926.",
    )
    DURBIN_WATSON = (
        "Durbin & Watson",
        1950,
        "Durbin, J., & Watson, G. S. (1950). Testing for serial correlation in least squares regression: I. "
        "*Biometrika*, *37*, 409–428.",
    )
    EFRON = (
        "Efron",
        1987,
        "Efron, B. (1987). Better bootstrap confidence intervals. *Journal of the American Statistical "
        "Association*, *82*, 171–185.",
    )
    ESAREY_SUMNER = (
        "Esarey & Sumner",
        2018,
        "Esarey, J., & Sumner, J. L. (2018). Marginal effects in interaction models: Determining and "
        "controlling the false positive rate. *Comparative Political Studies*, *51*, 1144–1176.",
    )
    FIELLER = (
        "Fieller",
        1954,
        "Fieller, E. C. (1954). Some problems in interval estimation. *Journal of the Royal Statistical "
        "Society: Series B*, *16*, 175–185.",
    )
    FOX_MONETTE = (
        "Fox & Monette",
        1992,
        "Fox, J., & Monette, G. (1992). Generalized collinearity diagnostics. *Journal of the American "
        "Statistical Association*, *87*, 178–183.",
    )
    FRIEDRICH = (
        "Friedrich",
        1982,
        "Friedrich, R. J. (1982). In defense of multiplicative terms in multiple regression equations. "
        "*American Journal of Political Science*, *26*, 797–833.",
    )
    HAINMUELLER_MUMMOLO_XU = (
        "Hainmueller, Mummolo & Xu",
        2019,
        "Hainmueller, J., Mummolo, J., & Xu, Y. (2019). How much should we trust estimates from "
        "multiplicative interaction models? Simple tools to improve empirical practice. *Political "
        "Analysis*, *27*, 163–192.",
    )
    HAYES_MONTOYA = (
        "Hayes & Montoya",
        2017,
        "Hayes, A. F., & Montoya, A. K. (2017). A tutorial on testing, visualizing, and probing an "
        "interaction involving a multicategorical variable in linear regression analysis. *Communication "
        "Methods and Measures*, *11*, 1–30.",
    )
    HOLM = (
        "Holm",
        1979,
        "Holm, S. (1979). A simple sequentially rejective multiple test procedure. *Scandinavian Journal of "
        "Statistics*, *6*, 65–70.",
    )
    JOHNSON_NEYMAN = (
        "Johnson & Neyman",
        1936,
        "Johnson, P. O., & Neyman, J. (1936). Tests of certain linear hypotheses and their application to "
        "some educational problems. *Statistical Research Memoirs*, *1*, 57–93.",
    )
    KOENKER = (
        "Koenker",
        1981,
        "Koenker, R. (1981). A note on studentizing a test for heteroscedasticity. *Journal of "
        "Econometrics*, *17*, 107–112.",
    )
    MACKINNON_WHITE = (
        "MacKinnon & White",
        1985,
        "MacKinnon, J. G., & White, H. (1985). Some heteroskedasticity-consistent covariance matrix "
        "estimators with improved finite sample properties. *Journal of Econometrics*, *29*, 305–325.",
    )
    POTTHOFF = (
        "Potthoff",
        1964,
        "Potthoff, R. F. (1964). On the Johnson–Neyman technique and some extensions thereof. "
        "*Psychometrika*, *29*, 241–256.",
    )
    RAMSEY = (
        "Ramsey",
        1969,
        "Ramsey, J. B. (1969). Tests for specification errors in classical linear least-squares regression "
        "analysis. *Journal of the Royal Statistical Society: Series B*, *31*, 350–371.",
    )
    ROYSTON = (
        "Royston",
        1995,
        "Royston, P. (1995). Remark AS R94: A remark on algorithm AS 181: The W-test for normality. *Applied "
        "Statistics*, *44*, 547–551.",
    )
    SCHAD_VASISHTH_HOHENSTEIN = (
        "Schad, Vasishth, Hohenstein & Kliegl",
        2020,
        "Schad, D. J., Vasishth, S., Hohenstein, S., & Kliegl, R. (2020). How to capitalize on a priori "
        "contrasts in linear (mixed) models: A tutorial. *Journal of Memory and Language*, *110*, Article "
        "104038.",
    )
    SCHUIRMANN = (
        "Schuirmann",
        1987,
        "Schuirmann, D. J. (1987). A comparison of the two one-sided tests procedure and the power approach "
        "for assessing the equivalence of average bioavailability. *Journal of Pharmacokinetics and "
        "Biopharmaceutics*, *15*, 657–680.",
    )
    STEIGER_FOULADI = (
        "Steiger & Fouladi",
        1997,
        "Steiger, J. H., & Fouladi, R. T. (1997). Noncentrality interval estimation and the evaluation of "
        "statistical models. In L. L. Harlow, S. A. Mulaik, & J. H. Steiger (Eds.), *What if there were no "
        "significance tests?* (pp. 221–257). Erlbaum.",
    )
    WHITE = (
        "White",
        1980,
        "White, H. (1980). A heteroskedasticity-consistent covariance matrix estimator and a direct test for "
        "heteroskedasticity. *Econometrica*, *48*, 817–838.",
    )

    @property
    def authors(self) -> str:
        """“Aiken & West”."""
        return self.value[0]

    @property
    def year(self) -> int:
        """When it came out."""
        return self.value[1]

    @property
    def reference(self) -> str:
        """As a list of references has it."""
        return self.value[2]

    def __format__(self, form: str) -> str:
        """“Holm, 1979”; owner: “Holm's (1979)”; named: “Holm (1979)”."""
        match form:
            case "owner":
                return f"{self.authors}'s ({self.year})"
            case "named":
                return f"{self.authors} ({self.year})"
            case _:
                return f"{self.authors}, {self.year}"


@dataclass(frozen=True, slots=True)
class Method:
    """A sentence about a method, with the works that it cites."""

    text: str
    works: tuple[Work, ...] = ()

    def __str__(self) -> str:
        return self.text


def method(template: str, *named: Work | str) -> Method:
    """A sentence with works and names put in where its braces stand, as in `method("{:owner} method", Work.HOLM)`."""
    return Method(template.format(*named), tuple(one for one in named if isinstance(one, Work)))


def references(methods: Iterable[Method]) -> list[str]:
    """The works that methods cite, in the order of their authors: “Holm, S. (1979). A simple …”."""
    found = {work for one in methods for work in one.works}
    return [work.reference for work in sorted(found, key=lambda work: (work.authors, work.year))]
