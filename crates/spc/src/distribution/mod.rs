//! Distributions of single values: families, their fit by maximum likelihood, and how well one fits.
//!
//! | task | module |
//! |---|---|
//! | fit families to values, choose by AIC | `fit`, `likelihood` |
//! | Anderson–Darling, normality | `anderson_darling` |
//! | probability plot with its line and band | `probability_plot` |
//! | histogram | `histogram` |
//! | values with how often each comes | `tally` |

mod anderson_darling;
mod chi_square;
mod family;
mod fit;
mod histogram;
mod likelihood;
mod probability_plot;
mod standard;
mod student_and_f;
mod tally;

pub use anderson_darling::{Normality, anderson_darling, normality};
pub(crate) use chi_square::{chi_square_quantile, chi_square_upper_tail};
pub use family::{Distribution, Family};
pub use fit::{Filter, Fit, FitAnswer, FitRequest, fit};
pub use fit::{best, fit_family};
pub use histogram::{Histogram, HistogramRequest, histogram};
pub use likelihood::fit_one;
pub use probability_plot::{BandPoint, Line, PlotPoint, PlotRequest, ProbabilityPlot, probability_plot, thinned_plot};
pub(crate) use student_and_f::{f_quantile, f_tails, student_quantile, student_two_sided};
pub use tally::Tally;
