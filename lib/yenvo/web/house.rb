# frozen_string_literal: true

module Yenvo
  module Web
    # What every call needs.
    class House
      # @return [Store::Root]
      attr_reader :root
      # @return [Clock]
      attr_reader :clock
      # @return [Settings]
      attr_reader :settings
      # @return [Live] tells open pages what changed
      attr_reader :live
      # @return [Peer] tells from where calls come
      attr_reader :peer
      # @return [Presence] notes who is still here
      attr_reader :presence

      # @return [Class] Rack middleware that signs people in
      def sign_in = @sign_in ||= SignIn.for(root)

      def initialize(root:, clock:, settings:, live:)
        @root = root
        @clock = clock
        @settings = settings
        @live = live
        @peer = Peer.new(settings.proxies)
        @presence = Presence.new(root)
      end

      # Persons are listed on the sign-in page, and their common password holds, where that was asked for and the
      # database is one that the demo made.
      def demo? = settings.demo && root.moved_clock.allowed?

      # Nothing of the settings, which hold secrets.
      def inspect = "#<#{self.class}>"
    end
  end
end
