//! Tasks without vectors of an independent implementation, against cases worked by hand: sums done
//! on paper, tails and quantiles of chi-square, beta, gamma and normal from a statistics package with
//! fifteen digits. Formulas are those of the functions' documentation.

use rstest::rstest;
use serde_json::{Value, json};

use crate::as_trees::analyze;

/// Tails and quantiles agree to this; plain sums do far better.
const RELATIVE: f64 = 1e-10;
/// The median of a symmetric distribution is 0 but for rounding.
const NEXT_TO_ZERO: f64 = 1e-24;

fn assert_close(got: &Value, want: f64, what: &str) {
    let got = got.as_f64().unwrap_or_else(|| panic!("{what} is {got}"));
    assert!((got - want).abs() <= RELATIVE * want.abs() + NEXT_TO_ZERO, "{what}: {got} is not {want}");
}

fn answer(request: Value) -> Value {
    analyze(request).unwrap()
}

fn subgroups() -> Value {
    json!([
        {"values": [10.2, 10.6, 9.9, 10.5]}, {"values": [10.4, 10.1, 10.8, 10.3]}, {"values": [9.8, 10.6, 10.4, 10.2]},
        {"values": [10.9, 10.3, 10.1, 10.5]}, {"values": [10.0, 10.7, 10.4, 10.3]}, {"values": [10.6, 10.2, 10.5, 9.9]}
    ])
}

/// 24 values with mean 10.341667 against centre 10 and sigma 0.5; squares within subgroups 1.81.
#[test]
fn limits_whose_mean_has_moved() {
    let got = answer(json!({
        "task": "limits_check", "chart": "xbar_r", "points": subgroups(),
        "limits": {"basis": "given", "center": 10.0, "sigma": 0.5}, "rules": {"preset": "western_electric"}
    }));
    assert_eq!(got["points"], 6);
    assert_close(&got["mean"]["t"], 3.347_635_981_803_677, "z");
    assert_close(&got["mean"]["p"], 8.150_399_118_268_963e-4, "p");
    assert_close(&got["mean"]["shift"], 0.683_333_333_333_333_4, "shift");
    assert_close(&got["sigma"]["f"], 7.24 / 18.0, "F, which is χ²/18 against exact limits");
    assert_eq!((&got["mean"]["df"], &got["sigma"]["df0"]), (&Value::Null, &Value::Null));
    assert_eq!(got["sigma"]["df"], 18);
    assert_close(&got["sigma"]["p"], 2.411_693_017_475_580_5e-2, "p of sigma");
    assert_close(&got["sigma"]["ratio"], 0.634_209_919_681_348_1, "ratio");
    assert_eq!(got["verdict"], "moved");
    // 6 points over the average run length 91.75 of these rules, which 20,000 runs know to 1 %.
    let expected = got["signals"]["expected"].as_f64().unwrap();
    assert!((expected / (6.0 / 91.75) - 1.0).abs() < 0.03, "{expected}");
}

/// Single values have no spread within: theirs is about their own mean, with N − 1 degrees of freedom.
#[test]
fn limits_of_single_values_that_have_grown_too_narrow() {
    let values = [10.9, 9.2, 11.3, 8.6, 10.1, 12.0, 7.9, 10.4];
    let points: Vec<Value> = values.iter().map(|x| json!({"values": [x]})).collect();
    let got = answer(json!({
        "task": "limits_check", "chart": "i_mr", "points": points,
        "limits": {"basis": "given", "center": 10.0, "sigma": 0.5}
    }));
    assert_close(&got["mean"]["t"], 0.282_842_712_474_619, "z");
    assert_close(&got["sigma"]["f"], 54.64 / 7.0, "F");
    assert_close(&got["sigma"]["p"], 3.513_884_539_019_21e-9, "p of sigma");
    assert_close(&got["sigma"]["ratio"], 2.793_870_842_704_488, "ratio");
    assert_eq!(got["verdict"], "wider");
    assert_eq!(got["signals"]["expected"], Value::Null);
}

#[test]
fn limits_of_a_share_that_has_moved() {
    let counts = [(12, 100), (9, 120), (14, 150), (11, 90)];
    let points: Vec<Value> = counts.iter().map(|(count, size)| json!({"count": count, "size": size})).collect();
    let got = answer(json!({
        "task": "limits_check", "chart": "p", "points": points, "limits": {"basis": "given", "center": 0.05}
    }));
    assert_close(&got["mean"]["t"], 4.920_419_323_166_419, "z");
    assert_close(&got["mean"]["p"], 8.635_899_231_297_306e-7, "p");
    assert_close(&got["mean"]["shift"], 0.229_415_733_870_561_8, "shift");
    assert_eq!(got["sigma"], Value::Null);
    assert_eq!(got["verdict"], "moved");
}

/// Limits are an estimate: nearly the same points speak less loudly against limits from few.
#[test]
fn limits_from_few_points_are_doubted_less() {
    let check = |baseline: Value| {
        answer(json!({
            "task": "limits_check", "chart": "xbar_r", "points": subgroups(), "baseline": baseline,
            "limits": {"basis": "given", "center": 10.0, "sigma": 0.5}
        }))
    };
    // 1/N + 1/N₀ = 1/24 + 1/12; ν₀ = 0.9(12 − 3).
    let few = check(json!({"points": 3, "values": 12}));
    assert_close(&few["mean"]["t"], 3.347_635_981_803_677 / 3f64.sqrt(), "t");
    assert_close(&few["mean"]["df"], 8.1, "df");
    assert_eq!((&few["verdict"], &check(Value::Null)["verdict"]), (&json!("hold"), &json!("moved")));
}

/// Only points after the estimate, of the phase asked for, not set aside, the latest ones.
#[test]
fn a_limits_check_looks_at_the_points_since() {
    let mut request = json!({
        "task": "limits_check", "chart": "xbar_r", "points": subgroups(), "phases": [0, 1], "excluded": [4],
        "limits": [{}, {"from": 1, "to": 2}], "phase": 1, "last": 25
    });
    assert_eq!(answer(request.clone())["points"], 2);
    request["last"] = json!(1);
    assert_eq!(answer(request.clone())["points"], 1);
    request["since"] = json!(1);
    request["last"] = json!(25);
    assert_eq!(answer(request.clone())["points"], 3);
    request["limits"] = json!([{}, {}]);
    request.as_object_mut().unwrap().remove("since");
    assert_eq!(analyze(request).unwrap_err().path, "since");
}

#[rstest]
#[case::overdispersed("p", &[(12, 400.0), (30, 500.0), (8, 380.0), (41, 520.0), (15, 450.0), (22, 480.0), (9, 410.0), (35, 530.0)],
    4.837_882_977_287_497, 1.825_454_733_437_101_4e-5, json!("p_prime"))]
#[case::as_poisson_or_calmer("u", &[(5, 2.0), (7, 3.0), (4, 2.0), (6, 2.5), (8, 3.0), (5, 2.0), (6, 2.5)],
    4.033_858_282_624_599e-2, 0.999_730_178_144_356_7, Value::Null)]
fn dispersion_of_counts(
    #[case] chart: &str,
    #[case] counts: &[(u32, f64)],
    #[case] ratio: f64,
    #[case] p: f64,
    #[case] suggests: Value,
) {
    let points: Vec<Value> = counts.iter().map(|(count, size)| json!({"count": count, "size": size})).collect();
    let got = answer(json!({"task": "dispersion", "chart": chart, "points": points}));
    assert_close(&got["ratio"], ratio, "ratio");
    assert_close(&got["p"], p, "p");
    assert_eq!(got["df"], counts.len() - 1);
    assert_eq!(got["suggests"], suggests);
}

#[test]
fn dispersion_is_of_p_and_u_alone() {
    let request = json!({"task": "dispersion", "chart": "c", "points": [{"count": 3}, {"count": 5}]});
    assert_eq!(analyze(request).unwrap_err().path, "chart");
}

/// Quartiles 12.0 and 12.4 of twenty values: width 0.8/20^(1/3) = 0.29472, so 1.2/0.29472 → five bins.
#[test]
fn a_histogram_by_freedman_and_diaconis() {
    let values = [
        12.1, 12.4, 11.9, 12.0, 12.6, 12.2, 12.3, 11.7, 12.8, 12.1, 12.2, 12.5, 11.8, 12.0, 12.3, 12.9, 12.4, 12.1,
        12.2, 12.0,
    ];
    let got = answer(json!({"task": "histogram", "values": values}));
    assert_eq!(got["counts"], json!([3, 6, 7, 2, 2]));
    let edges = got["edges"].as_array().unwrap();
    assert_eq!(edges.len(), 6);
    for (edge, want) in edges.iter().zip([11.7, 11.94, 12.18, 12.42, 12.66, 12.9]) {
        assert_close(edge, want, "edge");
    }
}

#[rstest]
#[case::equal_values(json!({"values": [4.0, 4.0, 4.0]}), json!([3]))]
#[case::equal_quartiles_by_sturges(json!({"values": [0, 5, 5, 5, 5, 5, 5, 10]}), json!([1, 0, 6, 1]))]
#[case::as_many_as_asked(json!({"values": [0, 1, 2, 3], "bins": 3}), json!([1, 1, 2]))]
fn bins_at_the_edges(#[case] mut request: Value, #[case] counts: Value) {
    request["task"] = json!("histogram");
    assert_eq!(answer(request)["counts"], counts);
}

const RANKS: [f64; 5] = [0.7 / 5.4, 1.7 / 5.4, 2.7 / 5.4, 3.7 / 5.4, 4.7 / 5.4];

#[rstest]
#[case::normal("normal", json!({"mean": 4.0, "sd": 1.3}), (1.3, 4.0, false),
    [-1.128_143_645_278_763_7, -0.482_248_214_837_923_3, 0.0, 0.482_248_214_837_923, 1.128_143_645_278_763_7],
    [0.655_965_273_307_945_3, 1.895_557_577_371_326_5, 2.633_719_840_088_519, 3.256_097_088_775_593_6, 3.928_849_255_919_103_3],
    [4.071_150_744_080_897, 4.743_902_911_224_405_5, 5.366_280_159_911_481, 6.104_442_422_628_674, 7.344_034_726_692_053])]
#[case::weibull("weibull", json!({"shape": 2.5, "scale": 4.4}), (0.4, 1.481_604_540_924_215_3, true),
    [-1.974_458_694_379_372_7, -0.972_686_141_205_371_4, -0.366_512_920_581_664_35, 0.144_767_396_343_599_7, 0.714_455_486_257_666_6],
    [0.531_171_928_728_119_5, 1.370_914_575_510_660_2, 2.106_376_423_275_192, 2.835_871_982_763_342_7, 3.704_517_675_804_595],
    [3.896_031_505_347_929_5, 4.826_539_593_568_925, 5.711_592_611_304_92, 6.775_271_508_561_827, 8.565_966_013_929_01])]
#[case::gamma("gamma", json!({"shape": 9.0, "scale": 0.44}), (0.44, 0.0, false),
    [5.766_675_035_908_637, 7.329_852_176_258_166, 8.668_951_184_370_37, 10.162_572_487_083_088, 12.415_728_457_083_578],
    [1.380_476_182_245_888, 2.088_067_276_017_839, 2.613_614_770_057_856, 3.122_486_602_319_11, 3.744_101_037_517_555_4],
    [3.885_452_001_793_246_3, 4.601_908_864_102_647, 5.337_622_129_691_669_5, 6.304_383_108_336_917, 8.167_026_126_937_564])]
#[case::gumbel("gumbel", json!({"location": 3.4, "scale": 1.1}), (1.1, 3.4, false),
    [-0.714_455_486_257_666_6, -0.144_767_396_343_599_9, 0.366_512_920_581_664_35, 0.972_686_141_205_371, 1.974_458_694_379_372_7],
    [1.567_970_980_556_593, 2.212_894_024_716_636, 2.682_543_259_946_908_3, 3.145_555_618_271_595_6, 3.734_526_688_617_95],
    [3.873_141_549_704_019, 4.607_951_451_691_933, 5.425_747_362_889_282, 6.606_847_738_728_470_5, 9.214_253_687_427_1])]
fn a_probability_plot(
    #[case] family: &str,
    #[case] parameters: Value,
    #[case] (slope, intercept, logarithmic): (f64, f64, bool),
    #[case] quantiles: [f64; 5],
    #[case] low: [f64; 5],
    #[case] high: [f64; 5],
) {
    let got = answer(json!({
        "task": "probability_plot", "values": [3.1, 4.7, 2.2, 5.9, 4.0], "family": family, "parameters": parameters
    }));
    assert_close(&got["line"]["slope"], slope, "slope");
    assert_close(&got["line"]["intercept"], intercept, "intercept");
    assert_eq!(got["logarithmic"], logarithmic);
    for (i, value) in [2.2, 3.1, 4.0, 4.7, 5.9].into_iter().enumerate() {
        let (point, band) = (&got["points"][i], &got["band"][i]);
        assert_close(&point["value"], value, "value");
        assert_close(&point["rank"], RANKS[i], "rank");
        assert_close(&point["quantile"], quantiles[i], "quantile");
        assert_close(&band["low"], low[i], "low");
        assert_close(&band["high"], high[i], "high");
    }
}

/// Without parameters the plot takes those of highest likelihood.
#[test]
fn a_probability_plot_fits_for_itself() {
    let values = [3.1, 4.7, 2.2, 5.9, 4.0];
    let plot = answer(json!({"task": "probability_plot", "values": values, "family": "lognormal"}));
    let fit = answer(json!({"task": "fit", "values": values, "families": ["lognormal"]}));
    assert_eq!(plot["parameters"], fit["fits"][0]["parameters"]);
    let request =
        json!({"task": "probability_plot", "values": values, "family": "normal", "parameters": {"mean": 1, "sd": 0}});
    assert_eq!(analyze(request).unwrap_err().path, "parameters");
}

/// Own mean 4.2 (sd 0.1) against 4.0 (sd 0.2): 100 · 0.2/4.0 = 5 %; 0.2/0.2 = 1; (0.1/4.2)/(0.2/4.0) = 10/21.
#[test]
fn a_laboratory_against_its_peers() {
    let request = |peer_sd: f64| json!({"task": "peer", "own": {"n": 30, "mean": 4.2, "sd": 0.1}, "peer": {"n": 400, "mean": 4.0, "sd": peer_sd}});
    let got = answer(request(0.2));
    assert_close(&got["bias_percent"], 5.0, "bias");
    assert_close(&got["sdi"], 1.0, "SDI");
    assert_close(&got["cvr"], 10.0 / 21.0, "CVR");
    assert_eq!(analyze(request(0.0)).unwrap_err().path, "peer.sd");
}

/// p̄ = 27/440, n̄ = 110: upper limit 0.130012 everywhere, z of the second point in that standard error.
#[test]
fn straight_limits_stand_at_the_mean_n_and_say_so() {
    let points = json!([
        {"count": 4, "size": 137}, {"count": 9, "size": 107}, {"count": 4, "size": 60}, {"count": 10, "size": 136}
    ]);
    let got = answer(json!({"task": "chart", "chart": "p", "points": points, "options": {"mean_size": true}}));
    assert_eq!(got["straight"], true);
    for point in got["panels"][0]["points"].as_array().unwrap() {
        assert_close(&point["upper"], 0.130_011_834_675_610_23, "upper");
    }
    assert_close(&got["panels"][0]["points"][1]["z"], 0.994_134_459_247_973_1, "z");
    let own = answer(json!({"task": "chart", "chart": "p", "points": points}));
    assert_eq!(own.get("straight"), None);
}

/// Parts of nominal 10 and 20: deviations 0.2, −0.1, 0.1, 0.4; moving ranges 0.3, 0.2, 0.3.
#[test]
fn short_runs_chart_deviations_from_nominal() {
    let points = json!([{"values": [10.2]}, {"values": [9.9]}, {"values": [20.1]}, {"values": [20.4]}]);
    let mut request = json!({
        "task": "chart", "chart": "i_mr", "points": points, "options": {"nominal": [10, 10, 20, 20]}
    });
    let got = answer(request.clone());
    assert_close(&got["phases"][0]["center"], 0.15, "centre");
    assert_close(&got["phases"][0]["sigma"], 0.8 / 3.0 * std::f64::consts::PI.sqrt() / 2.0, "sigma");
    // In sigma of each part: 2, −1, 0.5, 2.
    request["options"]["part_sigma"] = json!([0.1, 0.1, 0.2, 0.2]);
    let got = answer(request);
    assert_close(&got["phases"][0]["center"], 0.875, "centre");
    assert_close(&got["panels"][0]["points"][1]["value"], -1.0, "value");
}

/// Specification 8…12 about 10, mean 10.5: a quarter of half the width.
#[test]
fn capability_tells_how_far_off_centre_and_warns_of_signals() {
    let points = json!([{"values": [10.0, 11.0]}, {"values": [10.2, 10.8]}, {"values": [10.4, 10.6]}]);
    let request = json!({"task": "capability", "points": points, "lsl": 8, "usl": 12, "signals": 2});
    let got = answer(request);
    assert_close(&got["centring"], 0.25, "centring");
    assert_eq!(got["caution"]["signals"], 2);
    assert_eq!(got["sigma_method"], "range");
}

/// A tail beyond eight sigma still has its digits.
#[test]
fn far_tails_keep_their_digits() {
    let points = json!([{"values": [9.0, 11.0]}, {"values": [11.0, 9.0]}]);
    let got = answer(json!({"task": "capability", "points": points, "lsl": 0.0, "sigma_method": "range"}));
    // x̄ = 10, s = √(4/3): 1e6 Φ(−8.660254).
    assert_close(&got["ppm"]["overall"]["below"], 1e6 * 2.353_570_295_070_193_2e-18, "ppm");
}
