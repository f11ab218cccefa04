//! Distributions of single values: families, their fit by maximum likelihood, and how well one fits.
//!
//! | task | module |
//! |---|---|
//! | fit families to values, choose by AIC | `fit`, `likelihood` |
//! | Anderson–Darling, normality | `anderson_darling` |
//! | probability plot with its line and band | `probability_plot` |
//! | histogram | `histogram` |

mod anderson_darling;
mod chi_square;
mod family;
mod fit;
mod histogram;
mod likelihood;
mod probability_plot;
mod standard;

pub use anderson_darling::{Normality, anderson_darling, normality};
pub(crate) use chi_square::{chi_square_lower_tail, chi_square_quantile, chi_square_upper_tail};
pub use family::{Distribution, Family};
pub use fit::{Filter, Fit, FitAnswer, FitRequest, fit};
pub(crate) use fit::{best, fit_sorted};
pub use histogram::{Histogram, HistogramRequest, histogram};
pub use likelihood::fit_one;
pub use probability_plot::{BandPoint, Line, PlotPoint, PlotRequest, ProbabilityPlot, probability_plot};
