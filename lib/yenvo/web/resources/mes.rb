# frozen_string_literal: true

module Yenvo
  module Web
    # What belongs to whoever is signed in: name, zone, days away, what to be told, second step, sessions.
    class Mes < Base
      get("/?") { answer 200, me }

      put "/?" do
        Store::OwnChanges.new(root).save_own(person[:key], body_of_call, cause:)
        root.forget
        env["yenvo.person"] = root.people.of_account(here[:account_id])
        answer 200, me
      end

      # One's own tokens, for programs that act in one's name.
      get("/tokens") { answer 200, {tokens: mine} }

      post "/tokens" do
        secret = root.tokens.make(body_of_call, person[:key], cause:)
        answer 201, {secret:, tokens: mine}
      end

      delete "/tokens" do
        root.tokens.finish(body_of_call["id"], person: person[:key], cause:)
        answer 200, {tokens: mine}
      end

      # The private address of the calendar of one's tasks.
      get("/calendar") { answer 200, calendar }

      post "/calendar" do
        root.calendar_feeds.renew(person[:key], events: body_of_call["events"], cause:)
        answer 201, calendar
      end

      delete("/calendar") { root.calendar_feeds.finish(person[:key], cause:).then { answer 200, calendar } }

      get("/sessions") { answer 200, {sessions:} }

      delete "/sessions" do
        root.transaction do
          ended = store.finish(here[:account_id], body_of_call["id"], here: here[:session_id])
          words = body_of_call["id"] ? "ended a session of theirs" : "ended all their other sessions"
          who = {who: person[:key], address: env["yenvo.address"]}
          root.audit.note("sign_in", words, at: now, **who) if ended.positive? || body_of_call["id"].nil?
        end
        answer 200, {sessions:}
      end

      private

      def here = env["yenvo.session"]
      def store = Store::Sessions.new(root)

      def me
        schema = root.schema
        absences = Present.new(root, now:, person:).absences(person[:key])
        needed = root.people.needs_second_step?(here[:account_id])
        person.slice(:name, :email, :phone, :zone).merge(
          house_zone: schema.zone, zones: Core::Zone.names, absences:, tell: tell(schema.person(person[:key])),
          second_step: {set_up: root.people.with_second_step.include?(person[:key]), needed:}
        )
      end

      def calendar
        row = root.calendar_feeds.of(person[:key])
        {address: row && "/calendars/#{row[:token]}.ics", events: row ? row[:events] : false}
      end

      def mine = present.tokens(root.tokens.all(person[:key]))

      def tell(one) =
        Core::Schema::Telling::KINDS.map { |key, (words, _)| {key:, words:, way: one.told_by(key)} }

      def sessions
        store.of(here[:account_id]).map do |row|
          {
            id: row[:session_id], device: row[:device], here: row[:session_id] == here[:session_id],
            begun_at: Core::Reading.moment(row[:created_at]), used_at: Core::Reading.moment(row[:last_use])
          }
        end
      end
    end
  end
end
