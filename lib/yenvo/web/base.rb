# frozen_string_literal: true

module Yenvo
  module Web
    # What every resource stands on: who calls, what they may, and how errors become answers.
    class Base < Sinatra::Base
      configure do
        set :show_exceptions, false
        set :raise_errors, true
        set :dump_errors, false
        set :protection, false
        set :logging, false
        set :static, false
        set :host_authorization, {permitted_hosts: []}
      end

      before { content_type :json }

      error(Store::NotFound) { |error| refuse 404, error.message }
      error(Store::Refused) { |error| refuse 422, error.message, fields: error.fields }
      error(Store::Conflict) { |error| refuse 409, error.message, **error.details }
      error(Core::InvalidRule) { |error| refuse 422, error.message, problems: error.problems.map(&:to_h) }
      error(Forbidden) { |error| refuse 403, error.message }
      not_found { refuse(404, "There is nothing at this address.") if response.body.empty? || response.body.join.start_with?("<") }

      private

      def house = env["yenvo.house"]
      def root = house.root
      def person = env["yenvo.person"]
      def body_of_call = env["yenvo.body"]
      def now = @now ||= house.clock.now
      def cause = Store::Journal::Cause.person(person[:key], now)
      def present = @present ||= Present.new(root, now: now, person: person)
      def may = @may ||= Permissions.new(person)

      def answer(status, body) = halt(status, JSON.generate(body))
      def refuse(status, sentence, **more) = answer(status, {error: sentence, **more})
      def number(name) = params[name]&.then { |text| Integer(text, 10) }

      def id
        Integer(params["id"], 10)
      rescue ArgumentError
        raise Store::NotFound, "There is nothing at this address."
      end
    end
  end
end
