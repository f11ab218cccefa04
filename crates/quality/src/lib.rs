//! The rules of the job, without clock, database or network: time and stored facts come in as
//! values, decisions go out as values.
//!
//! | module | idea |
//! |---|---|
//! | [`object`], [`field`], [`version`] | what requests name, fill in, and saw |
//! | [`role`], [`account`] | who may do what, and where |
//! | [`pin`], [`password`] | which PINs, badge numbers and passwords are taken |
//! | [`tries`] | how tries to sign in are slowed down |
//! | [`characteristic`] | what is measured or counted, how often, between which bounds |
//! | [`analyte`] | what the laboratory determines |
//! | [`setup`] | whether it can be set up so |
//! | [`choices`] | what can be chosen when something is set up |
//! | [`chooser`] | which chart fits, and why |
//! | [`reading`] | typed text becomes a number, or a refusal with its facts |
//! | [`entry`] | an entry becomes the content of a sample |
//! | [`import`] | rows of a table become entries |
//! | [`sample`] | what a sample recorded, and what of it is plotted |
//! | [`run`] | control runs of the laboratory: verdict, release, repeat |
//! | [`peer`] | what is given to a peer group, and what it tells in return |
//! | [`correction`] | who may still change a sample |
//! | [`place`] | one place on a chart |
//! | [`scheme`] | how a characteristic is charted and judged |
//! | [`limits`] | their life: trial, in force, retired; what they are made of and from |
//! | [`judging`] | a sample against the limits that hold; one pattern, one signal |
//! | [`cause`], [`file`] | what an answer names, and what goes with it |
//! | [`signal`], [`episode`] | what was found; what belongs together; open → answered → reviewed |
//! | [`learn`] | what a period of episodes teaches |
//! | [`signature`] | what a signature covers, and what has changed since |
//! | [`notice`], [`webhook`] | what somebody is told who does not look; how programs know who told them |
//! | [`shift`], [`handover`] | the calendar of shifts; which one is handed over |
//! | [`device`] | devices that send what they measure |
//! | [`due`] | what has to be sampled now |
//! | [`trust`] | whether a chart can be trusted |
//! | [`trail`] | the append-only record and its hash chain |
#![deny(missing_docs)]

pub mod account;
pub mod analyte;
pub mod cause;
pub mod cause_tree;
pub mod characteristic;
pub mod choices;
pub mod chooser;
pub mod correction;
pub mod device;
pub mod due;
pub mod entry;
pub mod episode;
pub mod field;
pub mod file;
pub mod handover;
pub mod import;
pub mod judging;
pub mod learn;
pub mod limits;
pub mod note;
pub mod notice;
pub mod object;
pub mod part;
pub mod password;
pub mod peer;
pub mod pin;
pub mod place;
pub mod reading;
pub mod replay;
pub mod role;
pub mod run;
pub mod sample;
pub mod scale;
pub mod scheme;
pub mod setup;
pub mod shift;
pub mod signal;
pub mod signature;
pub mod study;
pub mod thresholds;
pub mod trail;
pub mod tries;
pub mod trust;
pub mod version;
pub mod webhook;
