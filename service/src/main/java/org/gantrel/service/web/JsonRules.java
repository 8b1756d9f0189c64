package org.gantrel.service.web;

import java.time.Instant;
import org.gantrel.core.text.Instants;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.format.FormatterRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.deser.jdk.StringDeserializer;
import tools.jackson.databind.deser.std.StdDeserializer;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.module.SimpleModule;

/** What texts and instants in a call may be: no text holds a zero byte, and instants lie in years of four digits. */
@Configuration
class JsonRules implements WebMvcConfigurer {

    @Bean
    JacksonModule rulesOfTexts() {
        return new SimpleModule("gantrel")
                .addDeserializer(String.class, new Text())
                .addDeserializer(Instant.class, new Moment());
    }

    @Override
    public void addFormatters(FormatterRegistry registry) {
        registry.addConverter(String.class, Instant.class, Instants::parse);
    }

    private static final class Text extends StringDeserializer {

        @Override
        public String deserialize(JsonParser parser, DeserializationContext context) {
            String text = super.deserialize(parser, context);
            if (text != null && text.indexOf('\0') >= 0) {
                throw InvalidFormatException.from(parser, "a text holds a zero byte", null, String.class);
            }
            return text;
        }
    }

    private static final class Moment extends StdDeserializer<Instant> {

        private Moment() {
            super(Instant.class);
        }

        @Override
        public Instant deserialize(JsonParser parser, DeserializationContext context) {
            String text = parser.getValueAsString();
            try {
                return Instants.parse(String.valueOf(text));
            } catch (IllegalArgumentException e) {
                throw InvalidFormatException.from(parser, e.getMessage(), text, Instant.class);
            }
        }
    }
}
