//! What the processes of the site did in these weeks: figures for the seeded generator, and the
//! stories that stand behind their signals.

/// What happened to a stretch of samples, counted from the newest (0).
#[derive(Clone, Copy)]
pub enum Happening {
    /// From this many samples ago on the mean lies off by so many sigma.
    Shift { ago: usize, until: usize, sigmas: f64 },
    /// From this many samples ago on the mean wanders off by so many sigma a sample.
    Wear { ago: usize, until: usize, sigmas_each: f64 },
}

/// How the signals of a stretch end.
#[derive(Clone, Copy)]
pub enum Ending {
    /// Answered with a cause of the catalogue and accepted.
    Accepted { cause: &'static str, action: &'static str },
    /// Answered, and sent back with a question.
    SentBack { cause: &'static str, action: &'static str, question: &'static str },
    /// Answered, not reviewed yet.
    Answered { cause: &'static str, action: &'static str },
    /// Nobody has answered yet.
    Open,
}

/// Signals first raised between these samples (counted from the newest) end like this.
#[derive(Clone, Copy)]
pub struct Story {
    pub from_ago: usize,
    pub to_ago: usize,
    pub ending: Ending,
    /// A remark on the sample at `from_ago`.
    pub note: Option<&'static str>,
}

/// A new phase, and after how many of its samples its limits are put in force.
#[derive(Clone, Copy)]
pub struct NewPhase {
    pub ago: usize,
    pub name: &'static str,
}

/// What samples of a process are drawn from.
#[derive(Clone, Copy)]
pub enum Draw {
    /// Readings about a mean with a within sigma; components about 0 with the same.
    Values { mean: f64, sigma: f64 },
    /// Nonconforming units or nonconformities a unit, in between so many units inspected. The rate
    /// itself scatters by so much of itself from sample to sample.
    Counts { rate: f64, inspected: (u32, u32), scatter: f64 },
    /// Rare events, entered by their time, about as far apart as the minutes of the process say.
    Events,
}

impl Draw {
    /// Whether it is of something rare.
    pub fn is_rare(self) -> bool {
        matches!(self, Self::Events)
    }
}

/// Something that happened at the station, so many samples ago.
#[derive(Clone, Copy)]
pub struct Told {
    pub ago: usize,
    pub kind: &'static str,
    pub lot: Option<&'static str>,
    pub text: Option<&'static str>,
}

/// One process.
pub struct Process {
    pub seed: u64,
    pub draw: Draw,
    /// Minutes from one sample to the next.
    pub minutes: i64,
    /// Pieces made from one sample to the next.
    pub pieces: Option<i64>,
    /// Samples that were skipped, so many ago, and why.
    pub skipped: Vec<(usize, &'static str)>,
    pub events: Vec<Told>,
    /// Only so many samples exist; all of the weeks when `None`.
    pub samples: Option<usize>,
    /// Minutes since the newest sample, as a share of the interval.
    pub newest_age: f64,
    pub happenings: Vec<Happening>,
    pub stories: Vec<Story>,
    pub new_phase: Option<NewPhase>,
}

impl Process {
    fn new(seed: u64, draw: Draw, minutes: i64, newest_age: f64) -> Self {
        Self {
            seed,
            draw,
            minutes,
            pieces: None,
            samples: None,
            newest_age,
            skipped: vec![],
            events: vec![],
            happenings: vec![],
            stories: vec![],
            new_phase: None,
        }
    }

    fn steady(seed: u64, mean: f64, sigma: f64, minutes: i64, newest_age: f64) -> Self {
        Self::new(seed, Draw::Values { mean, sigma }, minutes, newest_age)
    }

    fn counted(seed: u64, rate: f64, inspected: (u32, u32), minutes: i64, newest_age: f64) -> Self {
        Self::new(seed, Draw::Counts { rate, inspected, scatter: 0.0 }, minutes, newest_age)
    }

    /// Viscosity: one sample from an unstirred tank, well answered.
    pub fn one_bad_sample() -> Self {
        let ending = Ending::Accepted {
            cause: "Water content of the slip",
            action: "Tank had stood over the weekend. Stirred 15 minutes, measured again at 334, batch released.",
        };
        Self {
            happenings: vec![Happening::Shift { ago: 31, until: 31, sigmas: 4.6 }],
            events: vec![
                told(60, "New lot", Some("S-118"), None),
                told(30, "New lot", Some("S-119"), None),
                told(0, "New lot", Some("S-120"), None),
            ],
            stories: vec![Story { from_ago: 31, to_ago: 30, ending, note: Some("Skin on the slip when sampled.") }],
            ..Self::steady(11, 332.0, 14.0, 240, 1.1)
        }
    }

    /// Wall thickness on line 1: a new clay lot shifts the mean; new limits after it.
    pub fn new_clay_lot() -> Self {
        let ending = Ending::Accepted {
            cause: "New clay lot",
            action: "Lot K-17 opened at shift start. Casting time shortened by 20 s; engineer told.",
        };
        Self {
            happenings: vec![Happening::Shift { ago: 420, until: 0, sigmas: 0.75 }],
            stories: vec![Story { from_ago: 420, to_ago: 406, ending, note: Some("First tray from clay lot K-17.") }],
            new_phase: Some(NewPhase { ago: 405, name: "Clay lot K-17" }),
            skipped: vec![(25, "Line stood: mould cart blocked."), (24, "Line stood: mould cart blocked.")],
            events: vec![
                told(420, "New lot", Some("K-17"), None),
                told(26, "Stop", None, Some("Mould cart blocked on rail 2.")),
                told(23, "Start", None, None),
            ],
            ..Self::steady(21, 6.20, 0.085, 60, 1.05)
        }
    }

    /// Wall thickness on line 2: a tool wears, and its signal is open now.
    pub fn tool_wear() -> Self {
        Self {
            happenings: vec![Happening::Wear { ago: 18, until: 0, sigmas_each: 0.05 }],
            events: vec![told(300, "Tool change", None, Some("New core set 4.")), told(30, "Cleaning", None, None)],
            stories: vec![Story { from_ago: 12, to_ago: 0, ending: Ending::Open, note: None }],
            ..Self::steady(36, 7.90, 0.10, 60, 1.6)
        }
    }

    /// Peak temperature: an answer that the supervisor sent back.
    pub fn sent_back() -> Self {
        let ending = Ending::SentBack {
            cause: "Kiln burner out of adjustment",
            action: "Burner looked at.",
            question: "Which burner, and what was changed?",
        };
        Self {
            happenings: vec![Happening::Shift { ago: 9, until: 9, sigmas: -3.3 }],
            stories: vec![Story { from_ago: 9, to_ago: 9, ending, note: None }],
            ..Self::steady(43, 1121.0, 5.5, 120, 0.4)
        }
    }

    /// Firing shrinkage: answered, waiting for review.
    pub fn waiting_for_review() -> Self {
        let ending = Ending::Answered {
            cause: "Wrong piece measured",
            action: "Piece 3 came from the cooling rack of the day before. Measured a fresh one, back within limits.",
        };
        Self {
            happenings: vec![Happening::Shift { ago: 3, until: 3, sigmas: 2.3 }],
            stories: vec![Story { from_ago: 3, to_ago: 3, ending, note: None }],
            ..Self::steady(52, 12.0, 0.30, 240, 0.3)
        }
    }

    /// Flow rate: a low sample that nobody has answered yet.
    pub fn one_open() -> Self {
        Self {
            happenings: vec![Happening::Shift { ago: 0, until: 0, sigmas: -2.6 }],
            stories: vec![Story { from_ago: 0, to_ago: 0, ending: Ending::Open, note: None }],
            ..Self::steady(61, 846.0, 26.0, 120, 0.7)
        }
    }

    /// Burst pressure: measured for a week only, still on trial limits.
    pub fn on_trial() -> Self {
        Self { samples: Some(18), ..Self::steady(71, 20.4, 1.1, 480, 0.9) }
    }

    /// Bead weight: on trial, with two samples that are explained and still in the limits.
    pub fn explained() -> Self {
        let wrong = Ending::Accepted {
            cause: "Wrong piece measured",
            action: "Weighed with the carrier on. Weighed again without it: 4.79, 4.84, 4.81.",
        };
        let zero = Ending::Accepted {
            cause: "Gauge not zeroed",
            action: "Balance showed 0.15 empty. Zeroed, sample taken again at the next round.",
        };
        Self {
            samples: Some(28),
            happenings: vec![
                Happening::Shift { ago: 12, until: 12, sigmas: 4.0 },
                Happening::Shift { ago: 5, until: 5, sigmas: -3.4 },
            ],
            stories: vec![
                Story { from_ago: 12, to_ago: 11, ending: wrong, note: None },
                Story { from_ago: 5, to_ago: 4, ending: zero, note: Some("Balance moved to the other bench.") },
            ],
            ..Self::steady(77, 4.80, 0.05, 240, 0.2)
        }
    }

    /// Cap position: limits that were true once. The press was set anew and nobody made new limits.
    pub fn stale_limits() -> Self {
        Self {
            happenings: vec![Happening::Shift { ago: 60, until: 0, sigmas: 0.9 }],
            events: vec![told(61, "Maintenance", None, Some("Cap press set anew after its service."))],
            ..Self::steady(81, 0.140, 0.025, 480, 0.5)
        }
    }

    /// Collar height: small orders of three sizes, which share a chart; the fixture of one was set anew lately.
    pub fn small_orders() -> Self {
        Self {
            happenings: vec![Happening::Shift { ago: 1, until: 1, sigmas: -2.4 }],
            stories: vec![Story { from_ago: 1, to_ago: 0, ending: Ending::Open, note: None }],
            ..Self::steady(87, 0.0, 0.06, 360, 0.5)
        }
    }

    /// Burner trips: rare, and entered when they happen.
    pub fn burner_trips() -> Self {
        Self::new(141, Draw::Events, 1600, 0.4)
    }

    /// Leak test: one lot of caps that did not seal, answered well.
    pub fn leaking_caps() -> Self {
        let ending = Ending::Accepted {
            cause: "End caps out of round",
            action: "Caps of lot E-31 measured, 4 of 20 out of round. Lot blocked, caps of E-32 used.",
        };
        Self {
            happenings: vec![Happening::Shift { ago: 46, until: 44, sigmas: 3.0 }],
            stories: vec![Story { from_ago: 46, to_ago: 43, ending, note: Some("All leaks at the cap.") }],
            ..Self::counted(91, 0.035, (36, 64), 240, 1.1)
        }
    }

    /// Cracked after firing: two hundred looked at after each firing.
    pub fn cracked() -> Self {
        Self::counted(101, 0.022, (200, 200), 480, 0.6)
    }

    /// Pinholes on a panel of ten cartridges.
    pub fn pinholes() -> Self {
        Self {
            happenings: vec![Happening::Shift { ago: 2, until: 1, sigmas: 2.2 }],
            stories: vec![Story { from_ago: 2, to_ago: 0, ending: Ending::Open, note: None }],
            ..Self::counted(114, 0.42, (10, 10), 240, 0.9)
        }
    }

    /// Cosmetic defects: the light at the packing bench differs from day to day, so counts scatter
    /// more than chance allows.
    pub fn cosmetic() -> Self {
        let draw = Draw::Counts { rate: 0.8, inspected: (30, 90), scatter: 0.35 };
        Self { pieces: Some(500), ..Self::new(121, draw, 360, 0.4) }
    }
}

fn told(ago: usize, kind: &'static str, lot: Option<&'static str>, text: Option<&'static str>) -> Told {
    Told { ago, kind, lot, text }
}
