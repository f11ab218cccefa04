//! Routes, and what describes them.
//!
//! The description of every route takes a while to put together, and few ever ask for it: it is put together when
//! somebody does.

use std::convert::Infallible;

use axum::Router;
use axum::extract::Request;
use axum::response::IntoResponse;
use axum::routing::{MethodRouter, Route};
use tower::{Layer, Service};
use utoipa::openapi::OpenApi;
use utoipa_axum::router::{OpenApiRouter, UtoipaMethodRouter};

use crate::app::App;

/// One handler where its `utoipa::path` says; made by [`handle`].
pub struct Handled {
    pub path: String,
    pub router: MethodRouter<App>,
    pub described: fn() -> UtoipaMethodRouter<App>,
}

/// A handler with its path and method, which the attribute beside it states: `handle!(charts::chart)`.
macro_rules! handle {
    ($first:ident $(:: $rest:ident)+) => { handle!(@ [$first] $($rest)+) };
    (@ [$($module:ident)+] $next:ident $($rest:ident)+) => { handle!(@ [$($module)+ $next] $($rest)+) };
    (@ [$($module:ident)+] $handler:ident) => {
        utoipa_axum::paste! {{
            use utoipa::Path;
            use utoipa_axum::PathItemExt;
            let methods = $($module::)+[<__path_ $handler>]::methods();
            $crate::layout::Handled {
                path: $($module::)+[<__path_ $handler>]::path(),
                router: methods.iter().fold(axum::routing::MethodRouter::new(), |router, method| {
                    router.on(method.to_method_filter(), $($module::)+$handler)
                }),
                described: || utoipa_axum::routes!($($module::)+$handler),
            }
        }}
    };
}
pub(crate) use handle;

/// Routes that share their layers.
#[derive(Default)]
pub struct Routes {
    router: Router<App>,
    described: Vec<fn() -> UtoipaMethodRouter<App>>,
}

impl Routes {
    pub fn on(mut self, handled: Handled) -> Self {
        self.router = self.router.route(&handled.path, handled.router);
        self.described.push(handled.described);
        self
    }

    pub fn merge(mut self, other: Self) -> Self {
        self.router = self.router.merge(other.router);
        self.described.extend(other.described);
        self
    }

    /// Puts a layer around each of the routes there are so far.
    pub fn layer<L>(mut self, layer: L) -> Self
    where
        L: Layer<Route> + Clone + Send + Sync + 'static,
        L::Service: Service<Request, Error = Infallible> + Clone + Send + Sync + 'static,
        <L::Service as Service<Request>>::Response: IntoResponse + 'static,
        <L::Service as Service<Request>>::Future: Send + 'static,
    {
        self.router = self.router.route_layer(layer);
        self
    }

    /// The routes, and what puts their description together, beside what `base` says.
    pub fn parts(self, base: OpenApi) -> (Router<App>, impl FnOnce() -> OpenApi + Send) {
        let described = self.described;
        let describe = move || {
            let base = OpenApiRouter::with_openapi(base);
            described.into_iter().fold(base, |all, described| all.routes(described())).into_openapi()
        };
        (self.router, describe)
    }
}
