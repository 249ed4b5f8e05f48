// Every kind of run there is. Whoever proposes, posts or shows runs imports this, so that the kinds
// are known.
import "./closing";
import "./payables";
import "./purchasing";
