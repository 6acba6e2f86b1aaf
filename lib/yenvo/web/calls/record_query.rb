# frozen_string_literal: true

require "base64"

module Yenvo
  module Web
    # What a list page asks for, read from its address: kind, search, sort, down, after, where.FIELD=value|value,
    # from.FIELD=least and to.FIELD=greatest, holds.FIELD=words, is.FIELD=filled or empty, ids=number,number.
    module RecordQuery
      SEPARATOR = "|"
      MAX_VALUES = 30

      module_function

      # @return [Store::Lists::Query]
      # @raise [Store::Refused]
      def read(params, schema, now: nil)
        schema.kind(params["kind"]) ||
          raise(Store::Refused.at("kind" => "There is no kind of record #{params["kind"].to_s[0, 80].inspect}."))
        not_too_many(params)
        filters = params.select { |name, value| name.start_with?("where.") && value.is_a?(String) }
          .to_h { |name, value| [name.delete_prefix("where."), value.split(SEPARATOR, -1).first(MAX_VALUES)] }
        Store::Lists::Query.new(
          kind: params["kind"], filters:, search: params["search"].to_s.empty? ? nil : params["search"],
          sort: params["sort"] || "changed", now:, ranges: ranges(params, schema.kind(params["kind"]), schema),
          down: params.fetch("down", "1") == "1", after: place(params["after"], params["sort"] || "changed"),
          limit: Store::Lists::PAGE, holds: given(params, "holds."), ids: ids(params["ids"]),
          filled: given(params, "is.").transform_values { |value| filled?(value) }
        )
      end

      # Each field that is asked for costs a look at the index, or at every text.
      MOST_FIELDS = 10
      NARROWING = /\A(?:where|from|to|holds|is)\./
      def not_too_many(params)
        fields = params.keys.grep(NARROWING).map { |name| name.split(".", 2)[1] }.uniq
        return if fields.size <= MOST_FIELDS

        raise Store::Refused.at("filter" => "A list is narrowed by at most #{MOST_FIELDS} fields; take one away.")
      end

      # @return [Hash{String => String}] parameters that begin so, by what follows
      def given(params, begins) =
        params.select { |name, value| name.start_with?(begins) && value.is_a?(String) && !value.strip.empty? }
          .first(MAX_VALUES).to_h { |name, value| [name.delete_prefix(begins), value.strip[0, 200]] }

      def filled?(value)
        return value == "filled" if %w[filled empty].include?(value)

        raise Store::Refused.at("is" => "A field is “filled” or “empty”.")
      end

      MAX_IDS = 2_000
      def ids(text) = text && text.split(",").first(MAX_IDS).map(&:to_i)

      # from.FIELD and to.FIELD, read as values of the field.
      # @return [Hash{String => Array}]
      def ranges(params, kind, schema)
        given = params.select { |name, value| name.match?(/\A(from|to)\./) && value.is_a?(String) && !value.empty? }
        given.each_with_object({}) do |(name, value), found|
          side, key = name.split(".", 2)
          field = kind.field(key)
          if field.nil? || !(field.numeric? || field.dated?)
            raise Store::Refused.at(key => "There is no number or date #{key[0, 60].inspect} to filter by.")
          end

          plain =
            (
              if field.type == "datetime"
                Core::Reading.value(field.with(type: "date"), value, schema)
              else
                Core::Reading.value(field, value, schema)
              end
            )
          (found[key] ||= [nil, nil])[(side == "from") ? 0 : 1] = plain
        rescue Core::Unreadable => error
          raise Store::Refused.at(key => error.message)
        end
      end

      # @param given [Hash, nil] filters (field to values) and search, as in the body of a call
      # @return [Hash] the same, within bounds
      def filter(given)
        filters = (given && given["filters"]) || {}
        {
          "filters" => filters.first(10).to_h.transform_values { |values| values.first(MAX_VALUES).map(&:to_s) },
          "search" => given && given["search"].to_s[0, 200].then { |text| text.empty? ? nil : text }
        }
      end

      # @return [String] where a page ended, fit for an address
      def token(place) = Base64.urlsafe_encode64(JSON.generate(place), padding: false)

      # @raise [Store::Refused]
      def place(token, sort)
        return if token.nil?

        plain = JSON.parse(Base64.urlsafe_decode64(token))
        good =
          plain.is_a?(Hash) && plain["id"].is_a?(Integer) &&
          [String, Integer, Float, NilClass].any? { |type| plain["value"].is_a?(type) }
        raise ArgumentError unless good

        moment(plain["value"]) if sort == "changed"
        plain.slice("id", "value", "empty")
      rescue ArgumentError, JSON::ParserError
        unknown_place
      end

      # @return [Time]
      # @raise [Store::Refused]
      def moment(text)
        Time.iso8601(text.to_s)
      rescue ArgumentError
        unknown_place
      end

      # @raise [Store::Refused]
      def unknown_place =
        raise(Store::Refused.at("after" => "The place in the list is not one that Yenvo gave out. Begin at the top."))
    end
  end
end
