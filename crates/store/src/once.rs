//! The future of a bare `async fn` is compiled wherever it is awaited, with all that it awaits itself: in each crate and
//! each test program anew. In a box it is compiled in this crate, once; what that costs cannot be measured beside a query.

pub(crate) use async_recursion::async_recursion as compiled_once;
