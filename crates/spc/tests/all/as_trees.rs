//! Requests and answers as trees, which tests look into.

use serde_json::Value;
use spc::wrong_request::WrongRequest;

pub fn analyze(request: Value) -> Result<Value, WrongRequest> {
    let answer = spc::analysis::analyze(&request.to_string())?;
    Ok(serde_json::from_str(&answer.text()).unwrap())
}
