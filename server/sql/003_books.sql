-- Results have a part more: how books became points. What was settled before is computed anew when it is next opened.
update project set settled = null, settled_revision = null;
