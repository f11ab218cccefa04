//! Every route, under the permission it asks for.

use std::sync::{Arc, LazyLock};
use std::time::Duration;

use axum::extract::{DefaultBodyLimit, Request, State};
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use axum::{Json, Router, middleware};
use formats::shape::BYTES_AT_MOST;
use quality::file::FILE_AT_MOST;
use quality::role::Permission;
use tower::ServiceBuilder;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::TimeoutLayer;
use tower_http::trace::TraceLayer;
use tower_sessions::cookie::SameSite;
use tower_sessions::{Expiry, SessionManagerLayer};
use utoipa::OpenApi;
use utoipa::openapi::security::{HttpAuthScheme, HttpBuilder, SecurityScheme};

use crate::app::App;
use crate::failure::Failure;
use crate::layout::{Routes, handle};
use crate::problem::Problem;
use crate::sessions::Sessions;
use crate::{
    access, accounts, analyze, answers, came_in, cause_trees, causes, changes, charts, corrections, data, devices,
    entry, episodes, files, guard, handover, ingest, lab, learn, limits, live, notes, notices, peers, people, plan,
    reports, rounds, rule_sets, signatures, studies, trail, wall, web,
};

/// Requests under way longer than this are given up; event streams are not requests in this sense.
const TIMEOUT: Duration = Duration::from_secs(30);

/// Largest body of an ordinary request.
const BODY_AT_MOST: usize = 64 * 1024;

/// Largest analysis request: some 800,000 points of one value.
const ANALYSIS_AT_MOST: usize = 16 * 1024 * 1024;

/// Five hundred decisions with their digests.
const SIGNATURE_AT_MOST: usize = 256 * 1024;

/// Two hundred characteristics, each with all it can hold.
const CHANGES_BODY_AT_MOST: usize = 4 * 1024 * 1024;

/// A thousand samples of some fifty readings.
const INGEST_AT_MOST: usize = 2 * 1024 * 1024;

/// A hundred thousand results by id, or some twenty thousand statistics.
const PEERS_BODY_AT_MOST: usize = 8 * 1024 * 1024;

/// A recipe that names a thousand columns.
const RECIPE_BODY_AT_MOST: usize = 256 * 1024;

/// Who shows a token.
const TOKENS: &str = "Shown by devices on their own routes, and by programs that read wherever a reader may.";

/// A session ends this long after signing in: one long shift.
const SESSION_HOURS: i64 = 12;

#[derive(OpenApi)]
#[openapi(
    info(title = "Nuvek", description = "Samples, control charts, signals and their review."),
    components(schemas(
        Problem,
        store::came_in::Became,
        store::episodes::EpisodeOrder,
        store::looking::Arrange,
        store::news::News,
        crate::listener::LiveNews
    ))
)]
struct Description;

/// The routes of the interface. A route that is not under a permission is open to everybody.
fn api(app: &App) -> Routes {
    let behind = |permission: Permission, routes: Routes| {
        routes.layer(middleware::from_fn_with_state((app.clone(), permission), guard::require))
    };
    let with_timeout = Routes::default()
        .on(handle!(access::sign_in::sign_in))
        .on(handle!(access::sign_in::sign_out))
        .on(handle!(access::terminals::known))
        .on(handle!(access::terminals::take_over))
        // A device shows a token instead of a session; the handler asks for it.
        .on(handle!(wall::wall))
        .merge(Routes::default().on(handle!(ingest::ingest)).layer(DefaultBodyLimit::max(INGEST_AT_MOST)))
        .merge(
            Routes::default()
                .on(handle!(access::sign_in::who))
                .on(handle!(access::secrets::set_password))
                .layer(middleware::from_fn_with_state(app.clone(), guard::known)),
        )
        // What a reader reads: where the path names an object, the guard asks whether it is of their areas; a list
        // is narrowed by its handler.
        .merge(behind(
            Permission::Read,
            Routes::default()
                .on(handle!(access::secrets::set_pin))
                .on(handle!(access::secrets::set_badge))
                .on(handle!(people::filters))
                .on(handle!(people::keep_filter))
                .on(handle!(people::forget_filter))
                .on(handle!(rounds::site))
                .on(handle!(rounds::rounds))
                .on(handle!(rounds::event_kinds))
                .on(handle!(plan::plan))
                .on(handle!(plan::offered))
                .on(handle!(rule_sets::rule_sets))
                .on(handle!(causes::catalogue))
                .on(handle!(corrections::corrections))
                .on(handle!(charts::chart))
                .on(handle!(charts::small_charts))
                .on(handle!(charts::chart_csv))
                .on(handle!(charts::chart_sheet))
                .on(handle!(charts::pin_chart))
                .on(handle!(charts::unpin_chart))
                .on(handle!(charts::trust))
                .on(handle!(charts::look))
                .on(handle!(cause_trees::cause_trees))
                .on(handle!(cause_trees::cause_tree))
                .on(handle!(studies::studies))
                .on(handle!(studies::study))
                .on(handle!(studies::answer_study))
                .on(handle!(studies::behind_figure))
                .on(handle!(studies::tags_of))
                .on(handle!(limits::limits))
                .on(handle!(came_in::came_in))
                .on(handle!(episodes::episodes))
                .on(handle!(episodes::count))
                .on(handle!(episodes::episode))
                .on(handle!(episodes::explained))
                .on(handle!(signatures::signatures))
                .on(handle!(signatures::signature))
                .on(handle!(files::file))
                .on(handle!(learn::learned))
                .on(handle!(changes::changed_samples))
                .on(handle!(data::hand_out::hand_out))
                .on(handle!(data::hand_out::handed_recipes))
                .on(handle!(reports::report))
                .on(handle!(reports::report_csv))
                .on(handle!(reports::report_sheet)),
        ))
        .merge(behind(
            Permission::Look,
            Routes::default()
                .on(handle!(rounds::pin))
                .on(handle!(rounds::unpin))
                .on(handle!(lab::benches))
                .on(handle!(lab::run))
                .on(handle!(lab::runs))
                .on(handle!(lab::lab_figures))
                .on(handle!(peers::peer_groups))
                .on(handle!(peers::peer_comparison))
                .on(handle!(peers::given_results))
                .on(handle!(peers::results_file))
                .on(handle!(peers::results_csv))
                .on(handle!(episodes::waiting))
                .on(handle!(people::people))
                .on(handle!(handover::handover))
                .on(handle!(handover::confirm_handover))
                .on(handle!(notices::bell))
                .on(handle!(notices::notices_seen))
                .on(handle!(notices::wishes))
                .on(handle!(notices::choose_wishes))
                .on(handle!(causes::causes))
                .merge(Routes::default().on(handle!(analyze::analyze)).layer(DefaultBodyLimit::max(ANALYSIS_AT_MOST))),
        ))
        .merge(behind(
            Permission::EnterSample,
            Routes::default()
                .on(handle!(entry::preview))
                .on(handle!(entry::save))
                .on(handle!(entry::skip))
                .on(handle!(devices::offers))
                .on(handle!(devices::take_offer))
                .on(handle!(lab::preview_run))
                .on(handle!(lab::save_run)),
        ))
        .merge(behind(
            Permission::ChangeSample,
            Routes::default().on(handle!(corrections::correct)).on(handle!(corrections::withdraw)),
        ))
        .merge(behind(
            Permission::RecordEvent,
            Routes::default().on(handle!(rounds::record_event)).on(handle!(rounds::count_pieces)),
        ))
        .merge(behind(
            Permission::SetUp,
            Routes::default()
                .on(handle!(plan::add_station))
                .on(handle!(plan::add_product))
                .on(handle!(plan::add_characteristic))
                .on(handle!(rule_sets::add_rule_set))
                .on(handle!(rule_sets::change_rule_set))
                .on(handle!(rule_sets::replay))
                .on(handle!(causes::add_cause))
                .on(handle!(causes::change_cause))
                .on(handle!(plan::choose))
                .on(handle!(devices::devices))
                .on(handle!(devices::add_device))
                .on(handle!(devices::change_device))
                .on(handle!(devices::revoke_device))
                .on(handle!(lab::add_analyte))
                .on(handle!(lab::assign))
                .on(handle!(lab::begin_lot))
                .on(handle!(lab::lot_takes_over))
                .on(handle!(peers::set_up_peer_group))
                .on(handle!(peers::change_peer_group))
                .merge(
                    Routes::default()
                        .on(handle!(plan::change))
                        .on(handle!(plan::foresee))
                        .layer(DefaultBodyLimit::max(CHANGES_BODY_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::ReleaseRun,
            Routes::default().on(handle!(lab::release_run)).on(handle!(lab::act_on_run)),
        ))
        .merge(behind(Permission::OverrideRun, Routes::default().on(handle!(lab::override_verdict))))
        // Which changes are whose, the route asks again.
        .merge(behind(Permission::SetAside, Routes::default().on(handle!(limits::change_limits))))
        .merge(behind(Permission::SetLimits, Routes::default().on(handle!(limits::to_look_at))))
        .merge(behind(
            Permission::BringIn,
            Routes::default()
                .on(handle!(data::files::proposal))
                .on(handle!(data::folders::folder_tables))
                .on(handle!(data::folders::fetch_table))
                .on(handle!(data::imports::imports))
                .on(handle!(data::imports::import))
                .on(handle!(data::imports::cancel_import))
                .merge(
                    Routes::default()
                        .on(handle!(data::preview::preview_table))
                        .on(handle!(data::imports::check_import))
                        .on(handle!(data::imports::bring_in))
                        .on(handle!(data::imports::correct_by_table))
                        .on(handle!(data::recipes::recipes))
                        .on(handle!(data::recipes::keep_recipe))
                        .on(handle!(data::recipes::change_recipe))
                        .layer(DefaultBodyLimit::max(RECIPE_BODY_AT_MOST)),
                )
                .merge(
                    Routes::default().on(handle!(data::files::send_table)).layer(DefaultBodyLimit::max(BYTES_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::KeepStudy,
            Routes::default()
                .on(handle!(studies::keep_study))
                .on(handle!(studies::change_study))
                .on(handle!(studies::freeze_study))
                .on(handle!(studies::sign_study))
                .on(handle!(cause_trees::start_tree))
                .on(handle!(cause_trees::change_tree))
                .on(handle!(cause_trees::copy_tree))
                .on(handle!(cause_trees::catalogue_idea)),
        ))
        .merge(behind(
            Permission::WriteNote,
            Routes::default()
                .on(handle!(cause_trees::change_ideas))
                .on(handle!(notes::write_note))
                .on(handle!(notes::change_note))
                .on(handle!(handover::leave_words)),
        ))
        .merge(behind(
            Permission::AnswerSignal,
            Routes::default()
                .on(handle!(answers::answer))
                .on(handle!(answers::add_to))
                .merge(Routes::default().on(handle!(files::send_file)).layer(DefaultBodyLimit::max(FILE_AT_MOST))),
        ))
        .merge(behind(
            Permission::ReviewSignal,
            Routes::default()
                .on(handle!(answers::review))
                .on(handle!(answers::review_many))
                .on(handle!(signatures::unsigned))
                .on(handle!(lab::review_run))
                .on(handle!(peers::withdraw_result))
                .on(handle!(peers::send_again))
                .on(handle!(peers::ask_peers))
                .merge(
                    Routes::default()
                        .on(handle!(peers::handed_over))
                        .on(handle!(peers::take_statistics))
                        .layer(DefaultBodyLimit::max(PEERS_BODY_AT_MOST)),
                )
                .merge(Routes::default().on(handle!(signatures::sign)).layer(DefaultBodyLimit::max(SIGNATURE_AT_MOST))),
        ))
        .merge(behind(
            Permission::ReadTrail,
            Routes::default().on(handle!(trail::trail)).on(handle!(trail::trail_file)),
        ))
        .merge(behind(
            Permission::LookAfterPeople,
            Routes::default()
                .on(handle!(accounts::accounts))
                .on(handle!(accounts::add_account))
                .on(handle!(accounts::change_account))
                .on(handle!(accounts::close_account))
                .on(handle!(accounts::reopen_account))
                .on(handle!(accounts::give_password))
                .on(handle!(accounts::take_pin_away))
                .on(handle!(accounts::end_sessions))
                .on(handle!(notices::webhooks))
                .on(handle!(notices::add_webhook))
                .on(handle!(notices::change_webhook)),
        ))
        .layer(TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, TIMEOUT));
    Routes::default()
        .merge(with_timeout)
        .on(handle!(wall::wall_live))
        .merge(behind(Permission::Read, Routes::default().on(handle!(live::live))))
}

/// The description of the interface, from which the browser's types are made.
pub fn openapi(app: &App) -> utoipa::openapi::OpenApi {
    api(app).parts(description()).1()
}

/// What is said of the interface beside its routes.
fn description() -> utoipa::openapi::OpenApi {
    let mut described = Description::openapi();
    let token = HttpBuilder::new().scheme(HttpAuthScheme::Bearer).description(Some(TOKENS)).build();
    described.components.get_or_insert_default().add_security_scheme("token", SecurityScheme::Http(token));
    described
}

/// The whole application: interface and shipped web files, behind sessions and security headers.
pub fn router(app: App) -> Router {
    let header = |name: HeaderName, value: &'static str| {
        SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value))
    };
    let policy =
        HeaderValue::from_str(&web::policy("'self'")).unwrap_or(HeaderValue::from_static("default-src 'none'"));
    let sessions = SessionManagerLayer::new(Sessions(app.pool.clone()))
        .with_name("nuvek_session")
        .with_same_site(SameSite::Strict)
        .with_http_only(true)
        // Served on loopback or behind a proxy that speaks TLS; see docs/architecture.md.
        .with_secure(false)
        .with_expiry(Expiry::OnInactivity(time::Duration::hours(SESSION_HOURS)));
    let layers = ServiceBuilder::new()
        .layer(TraceLayer::new_for_http())
        .layer(header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(header::X_FRAME_OPTIONS, "DENY"))
        .layer(header(header::REFERRER_POLICY, "same-origin"))
        .layer(header(HeaderName::from_static("cross-origin-opener-policy"), "same-origin"))
        .layer(SetResponseHeaderLayer::if_not_present(header::CONTENT_SECURITY_POLICY, policy))
        .layer(CompressionLayer::new())
        .layer(CatchPanicLayer::custom(|_: Box<dyn std::any::Any + Send>| {
            Problem::internal(&"a handler panicked").into_response()
        }))
        .layer(middleware::map_response(describe))
        .layer(CsrfLayer::new());
    let (routes, describe) = api(&app).parts(description());
    let described = Arc::new(LazyLock::new(describe));
    routes
        .route("/api/openapi.json", get(async move || Json(utoipa::openapi::OpenApi::clone(&described))))
        .layer(middleware::from_fn_with_state(app.clone(), of_this_moment))
        .fallback(web::file)
        .layer(DefaultBodyLimit::max(BODY_AT_MOST))
        .layer(sessions)
        .layer(layers)
        .with_state(app)
}

/// Answers of the interface are for this person at this moment, and say which news they know.
async fn of_this_moment(State(app): State<App>, request: Request, next: middleware::Next) -> Response {
    // Before anything is read: what is told meanwhile may not be known.
    let position = app.news.position();
    let mut response = next.run(request).await;
    response.headers_mut().insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    response.headers_mut().insert(live::POSITION, position.into());
    response
}

/// Refusals of the layers themselves get the same form as all others.
async fn describe(response: Response) -> Response {
    if response.extensions().get::<tower_http::csrf::ProtectionError>().is_some() {
        return Problem::from(Failure::CrossSite {}).into_response();
    }
    // The session layer could not keep the session: its 500 has no words of ours.
    let ours = response.headers().get(header::CONTENT_TYPE).is_some_and(|kind| kind == "application/problem+json");
    if response.status() == StatusCode::INTERNAL_SERVER_ERROR && !ours {
        return Problem::database_away(&"a session could not be read or kept").into_response();
    }
    response
}
