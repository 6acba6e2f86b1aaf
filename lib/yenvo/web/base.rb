# frozen_string_literal: true

module Yenvo
  module Web
    # What every resource stands on: who calls, what they may, and how errors become answers.
    class Base < Sinatra::Base
      NUMBER = /\A\d{1,18}\z/

      configure do
        set :show_exceptions, false
        set :raise_errors, true
        set :dump_errors, false
        set :protection, false
        set :logging, false
        set :static, false
        set :host_authorization, {permitted_hosts: []}
      end

      before do
        content_type :json
        headers "cache-control" => "no-store"
      end

      error(Store::NotFound) { |error| refuse 404, error.message }
      error(Store::Refused) { |error| refuse 422, error.message, fields: error.fields, **error.details.slice(:leaning) }
      error(Store::Conflict) { |error| refuse 409, error.message, **error.details }
      error(Core::InvalidRule) { |error| refuse 422, error.message, problems: error.problems.map(&:to_h) }
      error(Core::UnknownKind) do
        refuse 404, "It stands on a list that was taken away. An administrator can bring that list back in the set-up."
      end
      error(Forbidden) { |error| refuse 403, error.message }
      not_found do
        refuse(404, "There is nothing at this address.") if response.body.empty? || response.body.join.start_with?("<")
      end

      private

      def house = env["yenvo.house"]
      def root = house.root
      def person = env["yenvo.person"]
      def body_of_call = env["yenvo.body"]
      def now = @now ||= house.clock.now
      def cause = Store::Journal::Cause.person(person[:key], now)
      def present = @present ||= Present.new(root, now:, person:)
      def may = @may ||= Permissions.new(person, root.schema)

      # @return [Store::Sight] what whoever asks may see
      def sight = @sight ||= Store::Sight.new(root, person[:key])

      # Data leave the house.
      # @param words [String] such as "took out the file “keys.txt”"
      def taken_out(words, about) =
        root.audit.note("taken_out", words, who: person[:key], at: now, about:, address: env["yenvo.address"])

      # Gives a table out, as it goes.
      # @param name [String] such as "Deals"
      # @param heads [Array<String>]
      # @yield as in TableOut
      def give_table(name, heads, &page)
        taken_out("took out the table “#{name}”", name)
        stream_out("#{name}.csv", TableOut::TYPE, TableOut.new(heads, &page))
      end

      # @param parts [#each] texts
      def stream_out(file, type, parts)
        content_type type
        headers "content-disposition" => "attachment; filename*=UTF-8''#{ERB::Util.url_encode(file)}",
          "cache-control" => "private, no-store"
        body parts
      end

      # Gives out a file to be kept.
      # @param row [Hash] with name and type
      # @param path [String]
      def give_out(row, path)
        headers "content-type" => row[:type],
          "content-disposition" => "attachment; filename*=UTF-8''#{ERB::Util.url_encode(row[:name])}",
          "cache-control" => "private, no-store"
        send_file path, type: row[:type], disposition: nil
      end

      # @return [Integer, nil] the epoch of the set-up on which a change rests, as the page saw it
      def seen = Integer(env["HTTP_X_SEEN_SETUP"], exception: false)

      def answer(status, body) = halt(status, JSON.generate(body))
      def refuse(status, sentence, **more) = answer(status, {error: sentence, **more})

      # @return [Integer, nil] what a setting of the address says; the description has held it to digits
      def number(name) = params[name]&.to_i

      # @return [Time, nil] the beginning of a day by the clock of the house
      def midnight(name, more = 0)
        text = params[name]
        return if text.to_s.empty?

        root.calendar.zone.midnight(Date.strptime(text, "%Y-%m-%d") + more)
      rescue Date::Error
        raise Store::Refused.at(name => "#{Core::Show.quoted(text)} is no day; write one such as 2026-12-31.")
      end

      # @return [Integer] a part of the address
      # @raise [Store::NotFound] when that is no number which the database could hold
      def part(name) =
        if NUMBER.match?(params[name].to_s)
          params[name].to_i
        else
          raise(Store::NotFound, "There is nothing at this address.")
        end

      def id = part("id")
    end
  end
end
