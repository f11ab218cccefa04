//! Quadrature.

/// Nodes and weights of the ten-point Gauss–Legendre rule on [−1, 1] (positive half).
const GAUSS_10: [(f64, f64); 5] = [
    (0.148_874_338_981_631_22, 0.295_524_224_714_752_87),
    (0.433_395_394_129_247_2, 0.269_266_719_309_996_35),
    (0.679_409_568_299_024_4, 0.219_086_362_515_982_04),
    (0.865_063_366_688_984_5, 0.149_451_349_150_580_6),
    (0.973_906_528_517_171_7, 0.066_671_344_308_688_14),
];

/// Places and weights of ∫₀^end in panels of ten nodes.
pub(super) fn nodes(end: f64, panels: u32) -> impl Iterator<Item = (f64, f64)> {
    let width = end / f64::from(panels);
    (0..panels).flat_map(move |panel| {
        let middle = (f64::from(panel) + 0.5) * width;
        GAUSS_10
            .iter()
            .flat_map(move |(x, weight)| [-0.5, 0.5].map(|half| (middle + half * width * x, 0.5 * width * weight)))
    })
}
