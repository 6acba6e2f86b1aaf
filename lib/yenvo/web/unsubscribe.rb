# frozen_string_literal: true

module Yenvo
  module Web
    # Where mails to people of the house are stopped by one press, without signing in (RFC 8058): the address stands in
    # the mail's header, and holds a token that names person and kind and cannot be made up. Asked with GET it is a page
    # with a button, so that nothing that only looks links up stops a mail.
    class Unsubscribe
      # @param house [House]
      # @param pages [#call]
      def initialize(house, pages)
        @house = house
        @pages = pages
      end

      # Rack.
      def call(env)
        return @pages.call(env) unless env["REQUEST_METHOD"] == "POST"

        root = @house.root
        person, kind = root.own_mail.read(env["PATH_INFO"].delete_prefix("/"))
        return answer(404, error: "This address stops no mail. Choose on your own page what you are told.") unless kind

        Store::OwnChanges.new(root).stop_mail(person, kind,
          cause: Store::Journal::Cause.person(person, @house.clock.now))
        answer(200, stopped: true)
      end

      private

      HEADERS = {"content-type" => "application/json", "cache-control" => "no-store"}.freeze
      private_constant :HEADERS

      def answer(status, body) = [status, HEADERS.dup, [JSON.generate(body)]]
    end
  end
end
