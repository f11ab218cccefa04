//! Every route, under the permission it asks for.

use std::sync::Arc;
use std::time::Duration;

use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::response::IntoResponse;
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
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::app::App;
use crate::failure::Failure;
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
fn api(app: &App) -> OpenApiRouter<App> {
    let behind = |permission: Permission, routes: OpenApiRouter<App>| {
        routes.route_layer(middleware::from_fn_with_state((app.clone(), permission), guard::require))
    };
    let with_timeout = OpenApiRouter::new()
        .routes(routes!(access::sign_in::sign_in, access::sign_in::sign_out))
        .routes(routes!(access::terminals::known, access::terminals::take_over))
        // A device shows a token instead of a session; the handler asks for it.
        .routes(routes!(wall::wall))
        .merge(OpenApiRouter::new().routes(routes!(ingest::ingest)).layer(DefaultBodyLimit::max(INGEST_AT_MOST)))
        .merge(
            OpenApiRouter::new()
                .routes(routes!(access::sign_in::who))
                .routes(routes!(access::secrets::set_password))
                .route_layer(middleware::from_fn_with_state(app.clone(), guard::known)),
        )
        // What a reader reads: where the path names an object, the guard asks whether it is of their areas; a list
        // is narrowed by its handler.
        .merge(behind(
            Permission::Read,
            OpenApiRouter::new()
                .routes(routes!(access::secrets::set_pin))
                .routes(routes!(access::secrets::set_badge))
                .routes(routes!(people::filters, people::keep_filter))
                .routes(routes!(people::forget_filter))
                .routes(routes!(rounds::site))
                .routes(routes!(rounds::rounds))
                .routes(routes!(rounds::event_kinds))
                .routes(routes!(plan::plan))
                .routes(routes!(plan::offered))
                .routes(routes!(rule_sets::rule_sets))
                .routes(routes!(causes::catalogue))
                .routes(routes!(corrections::corrections))
                .routes(routes!(charts::chart))
                .routes(routes!(charts::small_charts))
                .routes(routes!(charts::chart_csv))
                .routes(routes!(charts::chart_sheet))
                .routes(routes!(charts::pin_chart, charts::unpin_chart))
                .routes(routes!(charts::trust))
                .routes(routes!(charts::look))
                .routes(routes!(cause_trees::cause_trees))
                .routes(routes!(cause_trees::cause_tree))
                .routes(routes!(studies::studies))
                .routes(routes!(studies::study))
                .routes(routes!(studies::answer_study))
                .routes(routes!(studies::behind_figure))
                .routes(routes!(studies::tags_of))
                .routes(routes!(limits::limits))
                .routes(routes!(came_in::came_in))
                .routes(routes!(episodes::episodes))
                .routes(routes!(episodes::count))
                .routes(routes!(episodes::episode))
                .routes(routes!(episodes::explained))
                .routes(routes!(signatures::signatures))
                .routes(routes!(signatures::signature))
                .routes(routes!(files::file))
                .routes(routes!(learn::learned))
                .routes(routes!(changes::changed_samples))
                .routes(routes!(data::hand_out::hand_out))
                .routes(routes!(data::hand_out::handed_recipes))
                .routes(routes!(reports::report))
                .routes(routes!(reports::report_csv))
                .routes(routes!(reports::report_sheet)),
        ))
        .merge(behind(
            Permission::Look,
            OpenApiRouter::new()
                .routes(routes!(rounds::pin, rounds::unpin))
                .routes(routes!(lab::benches))
                .routes(routes!(lab::run))
                .routes(routes!(lab::runs))
                .routes(routes!(lab::lab_figures))
                .routes(routes!(peers::peer_groups))
                .routes(routes!(peers::peer_comparison))
                .routes(routes!(peers::given_results))
                .routes(routes!(peers::results_file))
                .routes(routes!(peers::results_csv))
                .routes(routes!(episodes::waiting))
                .routes(routes!(people::people))
                .routes(routes!(handover::handover))
                .routes(routes!(handover::confirm_handover))
                .routes(routes!(notices::bell))
                .routes(routes!(notices::notices_seen))
                .routes(routes!(notices::wishes, notices::choose_wishes))
                .routes(routes!(causes::causes))
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(analyze::analyze))
                        .layer(DefaultBodyLimit::max(ANALYSIS_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::EnterSample,
            OpenApiRouter::new()
                .routes(routes!(entry::preview))
                .routes(routes!(entry::save))
                .routes(routes!(entry::skip))
                .routes(routes!(devices::offers))
                .routes(routes!(devices::take_offer))
                .routes(routes!(lab::preview_run))
                .routes(routes!(lab::save_run)),
        ))
        .merge(behind(
            Permission::ChangeSample,
            OpenApiRouter::new().routes(routes!(corrections::correct)).routes(routes!(corrections::withdraw)),
        ))
        .merge(behind(
            Permission::RecordEvent,
            OpenApiRouter::new().routes(routes!(rounds::record_event)).routes(routes!(rounds::count_pieces)),
        ))
        .merge(behind(
            Permission::SetUp,
            OpenApiRouter::new()
                .routes(routes!(plan::add_station))
                .routes(routes!(plan::add_product))
                .routes(routes!(plan::add_characteristic))
                .routes(routes!(rule_sets::add_rule_set))
                .routes(routes!(rule_sets::change_rule_set))
                .routes(routes!(rule_sets::replay))
                .routes(routes!(causes::add_cause))
                .routes(routes!(causes::change_cause))
                .routes(routes!(plan::choose))
                .routes(routes!(devices::devices, devices::add_device))
                .routes(routes!(devices::change_device))
                .routes(routes!(devices::revoke_device))
                .routes(routes!(lab::add_analyte))
                .routes(routes!(lab::assign))
                .routes(routes!(lab::begin_lot))
                .routes(routes!(lab::lot_takes_over))
                .routes(routes!(peers::set_up_peer_group))
                .routes(routes!(peers::change_peer_group))
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(plan::change))
                        .routes(routes!(plan::foresee))
                        .layer(DefaultBodyLimit::max(CHANGES_BODY_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::ReleaseRun,
            OpenApiRouter::new().routes(routes!(lab::release_run)).routes(routes!(lab::act_on_run)),
        ))
        .merge(behind(Permission::OverrideRun, OpenApiRouter::new().routes(routes!(lab::override_verdict))))
        // Which changes are whose, the route asks again.
        .merge(behind(Permission::SetAside, OpenApiRouter::new().routes(routes!(limits::change_limits))))
        .merge(behind(Permission::SetLimits, OpenApiRouter::new().routes(routes!(limits::to_look_at))))
        .merge(behind(
            Permission::BringIn,
            OpenApiRouter::new()
                .routes(routes!(data::files::proposal))
                .routes(routes!(data::folders::folder_tables, data::folders::fetch_table))
                .routes(routes!(data::imports::imports))
                .routes(routes!(data::imports::import, data::imports::cancel_import))
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(data::preview::preview_table))
                        .routes(routes!(data::imports::check_import))
                        .routes(routes!(data::imports::bring_in))
                        .routes(routes!(data::imports::correct_by_table))
                        .routes(routes!(data::recipes::recipes, data::recipes::keep_recipe))
                        .routes(routes!(data::recipes::change_recipe))
                        .layer(DefaultBodyLimit::max(RECIPE_BODY_AT_MOST)),
                )
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(data::files::send_table))
                        .layer(DefaultBodyLimit::max(BYTES_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::KeepStudy,
            OpenApiRouter::new()
                .routes(routes!(studies::keep_study))
                .routes(routes!(studies::change_study))
                .routes(routes!(studies::freeze_study))
                .routes(routes!(studies::sign_study))
                .routes(routes!(cause_trees::start_tree))
                .routes(routes!(cause_trees::change_tree))
                .routes(routes!(cause_trees::copy_tree))
                .routes(routes!(cause_trees::catalogue_idea)),
        ))
        .merge(behind(
            Permission::WriteNote,
            OpenApiRouter::new()
                .routes(routes!(cause_trees::change_ideas))
                .routes(routes!(notes::write_note))
                .routes(routes!(notes::change_note))
                .routes(routes!(handover::leave_words)),
        ))
        .merge(behind(
            Permission::AnswerSignal,
            OpenApiRouter::new().routes(routes!(answers::answer)).routes(routes!(answers::add_to)).merge(
                OpenApiRouter::new().routes(routes!(files::send_file)).layer(DefaultBodyLimit::max(FILE_AT_MOST)),
            ),
        ))
        .merge(behind(
            Permission::ReviewSignal,
            OpenApiRouter::new()
                .routes(routes!(answers::review))
                .routes(routes!(answers::review_many))
                .routes(routes!(signatures::unsigned))
                .routes(routes!(lab::review_run))
                .routes(routes!(peers::withdraw_result))
                .routes(routes!(peers::send_again))
                .routes(routes!(peers::ask_peers))
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(peers::handed_over))
                        .routes(routes!(peers::take_statistics))
                        .layer(DefaultBodyLimit::max(PEERS_BODY_AT_MOST)),
                )
                .merge(
                    OpenApiRouter::new()
                        .routes(routes!(signatures::sign))
                        .layer(DefaultBodyLimit::max(SIGNATURE_AT_MOST)),
                ),
        ))
        .merge(behind(
            Permission::ReadTrail,
            OpenApiRouter::new().routes(routes!(trail::trail)).routes(routes!(trail::trail_file)),
        ))
        .merge(behind(
            Permission::LookAfterPeople,
            OpenApiRouter::new()
                .routes(routes!(accounts::accounts, accounts::add_account))
                .routes(routes!(accounts::change_account))
                .routes(routes!(accounts::close_account))
                .routes(routes!(accounts::reopen_account))
                .routes(routes!(accounts::give_password))
                .routes(routes!(accounts::take_pin_away))
                .routes(routes!(accounts::end_sessions))
                .routes(routes!(notices::webhooks, notices::add_webhook))
                .routes(routes!(notices::change_webhook)),
        ))
        .layer(TimeoutLayer::with_status_code(StatusCode::SERVICE_UNAVAILABLE, TIMEOUT));
    OpenApiRouter::with_openapi(Description::openapi())
        .merge(with_timeout)
        .routes(routes!(wall::wall_live))
        .merge(behind(Permission::Read, OpenApiRouter::new().routes(routes!(live::live))))
}

/// The description of the interface, from which the browser's types are made.
pub fn openapi(app: &App) -> utoipa::openapi::OpenApi {
    described(api(app).split_for_parts().1)
}

fn described(mut described: utoipa::openapi::OpenApi) -> utoipa::openapi::OpenApi {
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
    let (routes, paths) = api(&app).split_for_parts();
    let described = Arc::new(described(paths));
    routes
        .route("/api/openapi.json", get(async move || Json(described.as_ref().clone())))
        .layer(middleware::from_fn(no_store))
        .fallback(web::file)
        .layer(DefaultBodyLimit::max(BODY_AT_MOST))
        .layer(sessions)
        .layer(layers)
        .with_state(app)
}

/// Answers of the interface are for this person at this moment.
async fn no_store(request: axum::extract::Request, next: middleware::Next) -> axum::response::Response {
    let mut response = next.run(request).await;
    response.headers_mut().insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    response
}

/// Refusals of the layers themselves get the same form as all others.
async fn describe(response: axum::response::Response) -> axum::response::Response {
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
