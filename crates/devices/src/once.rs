//! A future that is boxed is compiled in this crate, once, instead of wherever it is awaited.

pub(crate) use async_recursion::async_recursion as compiled_once;
