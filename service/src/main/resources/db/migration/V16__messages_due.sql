-- Which messages of a channel are due is answered from the index alone: the messages themselves are long, and many may wait.
drop index delivery_due;
create index delivery_due on delivery (state, channel, next_try_at);
