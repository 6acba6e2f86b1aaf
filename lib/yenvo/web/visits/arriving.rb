# frozen_string_literal: true

require "cloud_events"

module Yenvo
  module Web
    # Where programs send events to a door of the house: CloudEvents 1.0 over HTTP, structured, binary or many at once.
    # Who sends shows the door's secret, or signs with it after the open standard for webhooks. What is not taken is
    # answered with a problem (RFC 9457) that names the field, and waits in the inbox.
    class Arriving < Base
      PROBLEM = "application/problem+json"
      PER_MINUTE = 120
      MOST_AT_ONCE = 100
      # Seconds by which a signed moment may be off.
      FRESH = 300
      # What decoding raises; of JSON that is nothing like an event, what Ruby itself does.
      UNREADABLE = [
        CloudEvents::CloudEventsError, JSON::JSONError, ArgumentError, EncodingError, NoMethodError, TypeError
      ].freeze
      NOT_TAKEN = "It could not be taken. It waits until somebody of the house has looked at it."
      TITLES = {
        400 => "It cannot be read", 401 => "It is not known who sends", 404 => "There is no such door",
        415 => "It is no event", 422 => "It was not taken", 429 => "It is too much"
      }.freeze

      error(Store::NotFound) { |error| problem 404, error.message }
      not_found { problem 404, "There is no open door at this address." if response.body.empty? }

      post "/:address" do
        door = root.program_doors.at!(params["address"])
        body = env["rack.input"].read(Described::MAX_DOOR + 1).to_s
        known!(door, body)
        too_much!(door)
        answer_to(events(body).map { |event| take(door, event) })
      end

      private

      def problem(status, detail, **more)
        content_type PROBLEM
        headers "retry-after" => "60" if status == 429
        halt(status, JSON.generate({type: "about:blank", title: TITLES.fetch(status), status:, detail:, **more}))
      end

      def take(door, event) = root.arrivals.take(door, event, cause: Store::Journal::Cause.house(now)).row

      def answer_to(rows)
        return many(rows) if batch?

        row = rows[0]
        (row[:state] == "refused") ? refused(row) : answer(202, taken(row))
      end

      def many(rows)
        wrong = rows.select { |row| row[:state] == "refused" }
        return problem(422, "None of them was taken.", events: rows.map { |row| told(row) }) if wrong.size == rows.size

        answer(202, {events: rows.map { |row| told(row) }})
      end

      def told(row) = (row[:state] == "refused") ? {id: row[:event_id], **why(row)} : {id: row[:event_id], **taken(row)}
      def taken(row) = {number: row[:record_id], message: row[:id], state: row[:state]}
      def why(row) = {message: row[:id], state: row[:state], detail: detail(row), errors: errors(row)}
      def refused(row) = problem(422, detail(row), message: row[:id], errors: errors(row))

      # Which rules the house has is nobody's business outside.
      def detail(row) = fields(row).key?("rule") ? NOT_TAKEN : row[:reason]
      def errors(row) = fields(row).except("rule").map { |field, detail| {field:, detail:} }
      def fields(row) = JSON.parse(row[:fields] || "{}")

      # The secret itself, or a signature over id, moment and body.
      def known!(door, body)
        shown = env["HTTP_AUTHORIZATION"].to_s.delete_prefix("Bearer ")
        return if same?(shown, door[:secret]) || signed?(door, body)

        problem(401, "Send the secret of this door as Authorization: Bearer and the secret, or sign with it.")
      end

      def same?(one, other) = Rack::Utils.secure_compare(one, other)

      def signed?(door, body)
        id, at, signatures = %w[ID TIMESTAMP SIGNATURE].map { |name| env["HTTP_WEBHOOK_#{name}"].to_s }
        return false unless at.match?(/\A\d{1,12}\z/) && (now.to_i - at.to_i).abs <= FRESH

        right = Engine::CallWay.signature([door[:secret]], id, at, body)
        signatures.split.any? { |one| same?(one, right) }
      end

      def too_much!(door)
        most = door[:per_minute] || PER_MINUTE
        return if root.counts.add("door #{door[:key]}", seconds: 60) <= most

        problem(429, "This door takes #{most} calls a minute. Wait a minute, then send it again.")
      end

      def batch? = env["CONTENT_TYPE"].to_s.start_with?("application/cloudevents-batch")

      # @return [Array<Hash>] the attributes of each and its data
      def events(body)
        decoded = Array(CloudEvents::HttpBinding.default.decode_event({**env, "rack.input" => StringIO.new(body)}))
        problem(400, "There is no event in it.") if decoded.empty?
        problem(422, "At most #{MOST_AT_ONCE} events at once.") if decoded.size > MOST_AT_ONCE
        decoded.map { |event| plain(event) }
      rescue CloudEvents::NotCloudEventError, CloudEvents::UnsupportedFormatError
        problem(415, "Send an event as CloudEvents 1.0: structured, batch or binary (ce-id, ce-source, ce-type).")
      rescue *UNREADABLE
        problem(400, "It is no event of CloudEvents 1.0; it takes specversion, id, source and type, and sound JSON.")
      end

      def plain(event)
        raise CloudEvents::SpecVersionError unless event.spec_version.start_with?("1.")

        message = {**event.to_h.slice("id", "source", "type", "subject", "time"), "data" => data(event)}
        # What cannot be kept is not taken either.
        problem(400, "It has characters that cannot be kept.") if JSON.generate(message).include?("\\u0000")

        message.compact
      end

      def data(event) = event.data.is_a?(String) ? utf8(event.data) : event.data
      def utf8(text) = text.dup.force_encoding("UTF-8").scrub("?")
    end
  end
end
