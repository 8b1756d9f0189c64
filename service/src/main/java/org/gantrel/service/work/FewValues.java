package org.gantrel.service.work;

import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.util.JsonParserDelegate;

/** Reads one value, which holds no more values than a tree of them may take of memory: a bracket of two letters takes a hundred bytes there. */
final class FewValues extends JsonParserDelegate {

    private int values;

    /** @param parser at the value */
    FewValues(JsonParser parser) {
        super(parser);
    }

    @Override
    public JsonToken nextToken() {
        if (++values > JsonAnswer.MOST_VALUES) {
            throw new WorkFailed("a row has more than " + JsonAnswer.MOST_VALUES + " values");
        }
        return super.nextToken();
    }

    @Override
    public String nextName() {
        return nextToken() == JsonToken.PROPERTY_NAME ? currentName() : null;
    }

    @Override
    public JsonToken nextValue() {
        JsonToken token = nextToken();
        return token == JsonToken.PROPERTY_NAME ? nextToken() : token;
    }
}
